import { Box, Text, VisuallyHidden, chakra } from "@chakra-ui/react";
import type { KeyboardEvent } from "react";

import type { Catalog, Element, Finding } from "../shared/api";
import { VerdictMark, severityVerdict } from "../shared/VerdictMark";
import { useSettings } from "../shared/settings";
import { worstAt } from "./findings";
import type { Place } from "./layout";
import { caption, pieceName } from "./names";
import { PIECE_HEIGHT, PieceDrawing } from "./pieces/PieceDrawing";

interface ChainProps {
  elements: readonly Element[];
  places: readonly Place[];
  findings: readonly Finding[];
  selected: string | null;
  onSelect: (id: string) => void;
  onKey: (event: KeyboardEvent, element: Element) => void;
  catalog?: Catalog;
}

/** The link drawn as it is touched: each piece a button, in the order in which a hand meets them. */
export function Chain({ elements, places, findings, selected, onSelect, onKey, catalog }: ChainProps) {
  const { unit } = useSettings();
  return (
    <Box position="relative" height={`${PIECE_HEIGHT + 76}px`} role="group" aria-label="Pieces of the link">
      {elements.map((element, index) => {
        const place = places[index];
        const worst = worstAt(findings, element.id);
        const [first, second] = caption(element, unit, catalog);
        const chosen = element.id === selected;
        return place ? (
          <chakra.button
            key={element.id}
            id={`piece-${element.id}`}
            type="button"
            position="absolute"
            left={`${place.x}px`}
            width={`${place.w}px`}
            top={0}
            bottom={0}
            textAlign="center"
            verticalAlign="top"
            display="flex"
            flexDirection="column"
            alignItems="stretch"
            bg={chosen ? "bg.muted" : undefined}
            _hover={{ bg: chosen ? "bg.muted" : "bg.subtle" }}
            aria-pressed={chosen}
            onClick={() => onSelect(element.id)}
            onKeyDown={(event) => onKey(event, element)}
            data-piece={element.id}
          >
            <Box height="20px" display="flex" justifyContent="center" alignItems="center">
              {worst && worst.severity !== "note" && (
                <VerdictMark verdict={worst.best ?? severityVerdict[worst.severity]} size={15} />
              )}
            </Box>
            <PieceDrawing piece={element} w={place.w} atLeft={index < elements.length / 2} catalog={catalog} />
            <Caption text={first} strong />
            <Caption text={second} />
            <VisuallyHidden>
              {pieceName(element)}
              {worst && `, ${worst.severity}: ${worst.what}`}
            </VisuallyHidden>
          </chakra.button>
        ) : null;
      })}
    </Box>
  );
}

function Caption({ text, strong }: { text: string; strong?: boolean }) {
  return (
    <Text
      fontVariantNumeric="tabular-nums"
      fontSize="11.5px"
      lineHeight="13px"
      color={strong ? "fg" : "fg.muted"}
      overflow="hidden"
      lineClamp={2}
      overflowWrap="anywhere"
      title={text}
    >
      {text}
    </Text>
  );
}
