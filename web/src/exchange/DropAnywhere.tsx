import { Box, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";

import { type Dropped, heldIn } from "./dropped";

const WORDS = "Drop it: a plan file, a table, a map, a package or readings";

/** Takes a file that is dropped on any page to the page that reads it; nothing is stored before it was shown. */
export function DropAnywhere() {
  const navigate = useNavigate();
  const [over, setOver] = useState(false);
  useEffect(() => {
    /** A file over the page, and not over a field that takes it itself. */
    const holds = (event: DragEvent) =>
      (event.dataTransfer?.types.includes("Files") ?? false) &&
      !(event.target instanceof Element && event.target.closest("input[type=file]"));
    const enter = (event: DragEvent) => {
      if (!holds(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const drop = async (event: DragEvent) => {
      if (!holds(event) || event.defaultPrevented) return;
      event.preventDefault();
      setOver(false);
      const file = event.dataTransfer?.files[0];
      if (!file) return;
      const binary = /\.(zip|sor|xlsx)$/i.test(file.name);
      const text = binary ? "" : await file.text();
      const dropped: Dropped = { name: file.name, held: heldIn(file.name, text), text };
      await navigate("/exchange", { state: { dropped, at: performance.now() } });
    };
    const dropNow = (event: DragEvent) => void drop(event);
    window.addEventListener("dragenter", enter);
    window.addEventListener("dragover", enter);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", dropNow);
    return () => {
      window.removeEventListener("dragenter", enter);
      window.removeEventListener("dragover", enter);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", dropNow);
    };
  }, [navigate]);
  if (!over) return null;
  return (
    <Box
      position="fixed"
      inset="8px"
      zIndex={20}
      borderWidth="3px"
      borderStyle="dashed"
      borderColor="fg"
      bg="bg.subtle"
      opacity={0.94}
      display="grid"
      placeItems="center"
      pointerEvents="none"
    >
      <Text fontSize="20px" fontWeight={600}>
        {WORDS}
      </Text>
    </Box>
  );
}
