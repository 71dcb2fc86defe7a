import { useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";

import { useWalk } from "./queries";

/** Undo, redo, the command box and the key sheet, from anywhere. Typing in a field keeps its own keys. */
export function useKeys(projectId: number | undefined) {
  const undo = useWalk(projectId, "undo");
  const redo = useWalk(projectId, "redo");
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [sheet, setSheet] = useState(false);
  const [box, setBox] = useState(false);
  const { mutateAsync: undoNow } = undo;
  const { mutateAsync: redoNow } = redo;

  const busy = undo.isPending || redo.isPending;
  async function step(way: "undo" | "redo") {
    if (busy) return;
    const done = await (way === "undo" ? undoNow() : redoNow());
    if (!done) return;
    const { entry, show_link } = done;
    const shown = (number: number) => pathname.endsWith(`/links/${number}`); // the piece in hand stays in hand
    if (show_link !== null && !shown(show_link)) navigate(`/links/${show_link}`);
    else if (show_link === null && entry.link_id !== null && shown(entry.link_id)) navigate("/links");
  }

  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      const command = event.ctrlKey || event.metaKey;
      if (command && event.key.toLowerCase() === "z") {
        event.preventDefault();
        void step(event.shiftKey ? "redo" : "undo").catch(() => undefined);
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
    undo: () => void step("undo").catch(() => undefined),
    redo: () => void step("redo").catch(() => undefined),
    sheet,
    setSheet,
    box,
    setBox,
    error: undo.error ?? redo.error,
  };
}

export type Keys = ReturnType<typeof useKeys>;
