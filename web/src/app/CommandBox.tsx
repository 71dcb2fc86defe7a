import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";

import { type Command, found } from "./commands";

/** Find or do: every view, link and act by its name. Arrows choose, Enter does it, Escape leaves. */
export function CommandBox({ commands, onClose }: { commands: Command[]; onClose: () => void }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const list = useRef<HTMLDivElement>(null);
  const shown = found(commands, text);
  const current = Math.min(at, shown.length - 1);
  useEffect(() => {
    list.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
  }, [current]);

  function act(command: Command | undefined) {
    if (!command) return;
    onClose();
    command.act();
  }

  return (
    <Box
      position="absolute"
      right="12px"
      top="40px"
      width="min(440px, calc(100vw - 24px))"
      zIndex={10}
      bg="bg.panel"
      borderWidth="1px"
      borderColor="border.emphasized"
      role="dialog"
      aria-label="Find or do"
    >
      <Input
        autoFocus
        size="sm"
        role="combobox"
        aria-expanded
        aria-controls="command-list"
        aria-activedescendant={shown[current] ? `command-${current}` : undefined}
        aria-label="Find or do"
        placeholder="find a link, a view, an application; or do: undo, print, feet"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onBlur={onClose}
        onKeyDown={(event) => {
          event.stopPropagation();
          const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
          if (step) {
            event.preventDefault();
            setAt(Math.min(Math.max(current + step, 0), shown.length - 1));
          }
          if (event.key === "Enter") act(shown[current]);
          if (event.key === "Escape") onClose();
        }}
      />
      <Box id="command-list" ref={list} role="listbox" aria-label="What was found" maxH="320px" overflowY="auto">
        {shown.map((command, i) => (
          <Flex
            key={command.key}
            id={`command-${i}`}
            role="option"
            aria-selected={i === current}
            justify="space-between"
            gap={3}
            px={3}
            py="4px"
            bg={i === current ? "bg.muted" : undefined}
            cursor="pointer"
            onMouseDown={(event) => {
              event.preventDefault();
              act(command);
            }}
          >
            <Text truncate>{command.words}</Text>
            <Text color="fg.muted" fontSize="12px" whiteSpace="nowrap">
              {command.kind}
            </Text>
          </Flex>
        ))}
        {shown.length === 0 && (
          <Text px={3} py={2} color="fg.muted">
            Nothing is called that. Try a place, an application, or "undo".
          </Text>
        )}
      </Box>
    </Box>
  );
}
