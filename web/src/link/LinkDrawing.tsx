import { Box, Text } from "@chakra-ui/react";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";

import type { Catalog, Element, Fix, LinkDetail } from "../shared/api";
import { isGlass } from "../shared/colors";
import type { EditWish } from "./queries";
import { BuildLens } from "./build/BuildLens";
import { Chain } from "./Chain";
import { type Lens, LensBar } from "./LensBar";
import { LengthLens } from "./LengthLens";
import { LightLens } from "./LightLens";
import { layoutChain } from "./layout";
import { ProofLens } from "../proof/ProofLens";
import { StrandsLens } from "./strands/StrandsLens";

interface Props {
  detail: LinkDetail;
  catalog?: Catalog;
  selected: Element | null;
  onSelect: (id: string) => void;
  onMove: (id: string) => void;
  way: "left" | "right";
  onWay: (way: "left" | "right") => void;
  lens: Lens;
  onLens: (lens: Lens) => void;
  tried: Fix | null;
  edit: (wish: EditWish) => void;
}

/** The chain and the lens below it on one shared x. Arrow keys walk along the pieces, F turns, Delete takes out. */
export function LinkDrawing({
  detail,
  catalog,
  selected,
  onSelect,
  onMove,
  way,
  onWay,
  lens,
  onLens,
  tried,
  edit,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [available, setAvailable] = useState(700);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setAvailable(Math.floor(entry.contentRect.width)));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  const { link, review } = detail;
  const { places, width } = layoutChain(link.elements, available);
  const copper = link.elements.some((e) => e.kind === "twisted" || e.kind === "assembly");
  const direction = review.directions.find((d) => d.direction === way);

  function walk(event: KeyboardEvent, element: Element) {
    const index = link.elements.findIndex((e) => e.id === element.id);
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const target = step ? link.elements[index + step] : undefined;
    if (target) {
      event.preventDefault();
      onMove(target.id);
      document.getElementById(`piece-${target.id}`)?.focus();
    } else if (event.key === "Delete") {
      edit({ edits: [{ op: "remove", element: element.id }], label: `take out ${element.id}` });
    } else if (event.key.toLowerCase() === "f" && !event.ctrlKey && !event.metaKey) {
      edit({ edits: [{ op: "flip", element: element.id }], label: `turn ${element.id}` });
    }
  }

  return (
    <Box ref={box}>
      <Box overflowX="auto">
        <Box width={`${width}px`}>
          <Chain
            elements={link.elements}
            places={places}
            findings={review.findings}
            selected={selected?.id ?? null}
            onSelect={onSelect}
            onKey={walk}
            catalog={catalog}
          />
          <LensBar
            lens={lens}
            onLens={onLens}
            way={way}
            onWay={onWay}
            wavelengths={direction?.wavelengths_nm ?? []}
            width={available}
            copper={copper}
          />
          {lens === "build" && (
            <BuildLens
              detail={detail}
              places={places}
              width={width}
              available={available}
              selected={selected?.id ?? null}
              onSelect={onSelect}
              edit={edit}
            />
          )}
          {lens === "proof" && <ProofLens detail={detail} places={places} width={width} available={available} />}
          {copper && lens !== "build" && lens !== "proof" && (
            <LengthLens elements={link.elements} places={places} width={width} reach_m={review.reach_m} />
          )}
          {!copper && lens === "strands" && (
            <StrandsLens
              tried={tried}
              detail={detail}
              places={places}
              width={width}
              available={available}
              onSelect={onMove}
            />
          )}
          {copper || lens !== "light" ? null : direction ? (
            <LightLens
              direction={direction}
              places={places}
              glass={new Set(link.elements.filter(isGlass).map((e) => e.id))}
              width={width}
              selected={selected?.id ?? null}
              complete={review.complete}
            />
          ) : (
            <Text py={8} color="fg.muted">
              Light can be drawn when there is a module at each end and fiber between them.
            </Text>
          )}
        </Box>
      </Box>
    </Box>
  );
}
