import { Button, Flex, Text } from "@chakra-ui/react";

/** The ways to read the chain that are drawn under it. */
export type Lens = "light" | "strands";

interface Props {
  lens: Lens;
  onLens: (lens: Lens) => void;
  way: "left" | "right";
  onWay: (way: "left" | "right") => void;
  wavelengths: readonly number[];
  width: number;
}

/** Which lens is under the chain, and which way the light goes in it. */
export function LensBar({ lens, onLens, way, onWay, wavelengths, width }: Props) {
  const colors = [...new Set(wavelengths)].join("/");
  return (
    <Flex align="center" gap={2} mt={1} mb={1} wrap="wrap" position="sticky" left={0} width={`${width}px`}>
      <LensChoice lens={lens} onLens={onLens} />
      {lens === "light" && (
        <>
          <Text color="fg.muted" fontSize="12px">
            average power, strongest to weakest case
            {colors ? `, ${colors} nm` : ""}; under a step its worst loss in dB
          </Text>
          <Button size="xs" variant="outline" onClick={() => onWay(way === "right" ? "left" : "right")}>
            {way === "right" ? "left to right" : "right to left"} ⇄
          </Button>
        </>
      )}
    </Flex>
  );
}

function LensChoice({ lens, onLens }: { lens: Lens; onLens: (lens: Lens) => void }) {
  return (
    <Flex role="group" aria-label="Lens">
      {(["light", "strands"] as const).map((one) => (
        <Button
          key={one}
          size="xs"
          variant={one === lens ? "solid" : "outline"}
          aria-pressed={one === lens}
          onClick={() => onLens(one)}
        >
          {one === "light" ? "Light" : "Strands"}
        </Button>
      ))}
    </Flex>
  );
}
