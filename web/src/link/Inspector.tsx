import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";

import { Link as RouterLink } from "react-router";

import type { Catalog, Edit, Element, LinkDetail } from "../shared/api";
import type { EditWish } from "./queries";
import { InsertMenu } from "./InsertMenu";
import { ReadingsField } from "./fields/ReadingsField";
import { isGlass } from "../shared/colors";
import { specOf } from "../shared/kinds";
import { LayField } from "./fields/LayField";
import { SharedField } from "./fields/SharedField";
import { PieceFields } from "./fields/PieceFields";
import { pieceName } from "./names";

interface Props {
  detail: LinkDetail;
  piece: Element;
  catalog?: Catalog;
  edit: (wish: EditWish) => unknown;
  onSelect: (id: string | null) => void;
}

/** The piece in hand: its fields, changed in place, and what can be done with it. */
export function Inspector({ detail, piece, catalog, edit, onSelect }: Props) {
  const { elements } = detail.link;
  const index = elements.findIndex((e) => e.id === piece.id);
  const before = elements[index - 1];
  const act = (change: Edit, label: string) => edit({ edits: [change], label });
  const inner = piece.kind !== "port";
  return (
    <Box as="section" aria-label={`Piece: ${pieceName(piece)}`} px={3} py={2} borderBottomWidth="1px">
      <Flex justify="space-between" align="baseline">
        <Heading as="h2" size="sm" fontWeight={600}>
          {pieceName(piece)}
        </Heading>
        <Text className="figures" fontSize="12px" color="fg.muted">
          {index + 1} of {elements.length}
        </Text>
      </Flex>
      <PieceFields
        piece={piece}
        catalog={catalog}
        set={(values) =>
          act(
            { op: "set", element: piece.id, values },
            `set ${Object.keys(values).join(", ")} of ${pieceName(piece)}`,
          )
        }
      />
      {piece.kind === "run" || piece.kind === "trunk" ? (
        <LayField detail={detail} run={piece} />
      ) : (
        <SharedField key={`${piece.id} ${piece.part}`} detail={detail} piece={piece} catalog={catalog} />
      )}
      {isGlass(piece) && <ReadingsField key={piece.id} detail={detail} piece={piece} act={act} />}
      <Flex gap={2} mt={3} wrap="wrap">
        {specOf(catalog, piece.kind)?.turns && (
          <Button
            size="xs"
            variant="outline"
            onClick={() => act({ op: "flip", element: piece.id }, `turn ${pieceName(piece)}`)}
          >
            Turn round
          </Button>
        )}
        {piece.kind === "cord" && piece.strands !== 1 && (
          <Button size="xs" variant="outline" asChild>
            <RouterLink to={`/links/${detail.id}/crossing/${piece.id}`}>Card: cross by hand</RouterLink>
          </Button>
        )}
        {inner && (
          <Button
            size="xs"
            variant="outline"
            onClick={() => {
              act({ op: "remove", element: piece.id }, `take out ${pieceName(piece)}`);
              onSelect(null);
            }}
          >
            Take out
          </Button>
        )}
      </Flex>
      <Flex gap={2} mt={2} wrap="wrap">
        {before && <InsertMenu linkId={detail.id} after={before.id} label="Insert left" edit={edit} />}
        {index < elements.length - 1 && (
          <InsertMenu linkId={detail.id} after={piece.id} label="Insert right" edit={edit} />
        )}
      </Flex>
    </Box>
  );
}
