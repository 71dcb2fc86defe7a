import { Box, Text } from "@chakra-ui/react";

import type { Catalog, Method } from "../shared/api";
import { caption } from "../link/names";
import { layoutChain } from "../link/layout";
import { PIECE_HEIGHT, PieceDrawing } from "../link/pieces/PieceDrawing";

const WIDTH = 860;

/** A link that a set makes, drawn in the language of the chain. */
export function SampleChain({
  link,
  catalog,
}: {
  link: NonNullable<Method["samples"]>[number];
  catalog?: Catalog;
}) {
  const { places } = layoutChain(link.elements, WIDTH);
  return (
    <Box overflowX="auto" mt={1}>
      <Box
        position="relative"
        height={`${PIECE_HEIGHT + 34}px`}
        width={`${WIDTH}px`}
        role="img"
        aria-label={link.name}
      >
        {link.elements.map((element, i) => {
          const place = places[i];
          if (!place) return null;
          const [, second] = caption(element, "m", catalog);
          const first = element.kind === "cord" ? (element.crossed ? "crossed" : "straight") : element.kind;
          const words = element.kind === "cord" || element.kind === "port" ? first : second || first;
          return (
            <Box
              key={element.id}
              position="absolute"
              left={`${place.x}px`}
              width={`${place.w}px`}
              textAlign="center"
            >
              <PieceDrawing piece={element} w={place.w} atLeft={i < link.elements.length / 2} catalog={catalog} />
              <Text fontSize="11.5px" lineHeight="13px" color="fg.muted" overflowWrap="anywhere">
                {element.kind === "module" ? element.application : words}
              </Text>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
