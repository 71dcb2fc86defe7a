import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { useWalk } from "./queries";

/** Undo, redo, the command box and the key sheet, from anywhere. Typing in a field keeps its own keys. */
export function useKeys(projectId: number | undefined) {
  const undo = useWalk(projectId, "undo");
  const redo = useWalk(projectId, "redo");
  const navigate = useNavigate();
  const [sheet, setSheet] = useState(false);
  const [box, setBox] = useState(false);
  const { mutateAsync: undoNow } = undo;
  const { mutateAsync: redoNow } = redo;

  const before = useRef<Promise<unknown>>(Promise.resolve());
  /** One after the other: a step that is asked for while another runs waits for it. */
  function step(way: "undo" | "redo") {
    const mine = before.current.then(() => take(way));
    before.current = mine.catch(() => undefined);
  }
  async function take(way: "undo" | "redo") {
    const done = await (way === "undo" ? undoNow() : redoNow());
    if (!done) return;
    const { entry, show_link } = done;
    // The piece in hand stays in hand. What is shown is asked of the window: the page may have moved on meanwhile.
    const shown = (number: number) => window.location.pathname.endsWith(`/links/${number}`);
    if (show_link !== null && !shown(show_link)) navigate(`/links/${show_link}`);
    else if (show_link === null && entry.link_id !== null && shown(entry.link_id)) navigate("/links");
  }

  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      const command = event.ctrlKey || event.metaKey;
      if (command && event.key.toLowerCase() === "z") {
        event.preventDefault();
        step(event.shiftKey ? "redo" : "undo");
      } else if (command && event.key.toLowerCase() === "k") {
        event.preventDefault();
        setBox((open) => !open);
      } else if (!typing && event.key === "?") setSheet((open) => !open);
      else if (event.key === "Escape") setSheet(false);
      else if (!typing && event.key === "/") {
        event.preventDefault();
        document.getElementById("ladder-filter")?.focus();
      }
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  return {
    undo: () => step("undo"),
    redo: () => step("redo"),
    sheet,
    setSheet,
    box,
    setBox,
    error: undo.error ?? redo.error,
  };
}

export type Keys = ReturnType<typeof useKeys>;
