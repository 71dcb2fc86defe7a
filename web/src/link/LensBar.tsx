import { Button, Flex, Text } from "@chakra-ui/react";

/** The ways to read the chain that are drawn under it. */
export type Lens = "light" | "strands" | "build" | "proof";
const WORDS: Record<Lens, string> = { light: "Light", strands: "Strands", build: "Build", proof: "Proof" };

interface Props {
  lens: Lens;
  onLens: (lens: Lens) => void;
  way: "left" | "right";
  onWay: (way: "left" | "right") => void;
  wavelengths: readonly number[];
  width: number;
  /** A link without glass has no light to draw: its length stands there. */
  copper: boolean;
}

/** Which lens is under the chain, and which way the light goes in it. */
export function LensBar({ lens, onLens, way, onWay, wavelengths, width, copper }: Props) {
  const colors = [...new Set(wavelengths)].join("/");
  return (
    <Flex align="center" gap={2} mt={1} mb={1} wrap="wrap" position="sticky" left={0} width={`${width}px`}>
      <LensChoice lens={lens} onLens={onLens} copper={copper} />
      {lens === "light" && copper && (
        <Text color="fg.muted" fontSize="12px">
          from port to port; a link without glass has no light to draw, and its limit is how far it reaches
        </Text>
      )}
      {lens === "build" && (
        <Text color="fg.muted" fontSize="12px">
          what has become of each piece, the length that is ordered, its label
        </Text>
      )}
      {lens === "proof" && (
        <Text color="fg.muted" fontSize="12px">
          faces, what is measured where, and each reading beside what it should be
        </Text>
      )}
      {lens === "light" && !copper && (
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

function LensChoice({ lens, onLens, copper }: { lens: Lens; onLens: (lens: Lens) => void; copper: boolean }) {
  const lenses: readonly Lens[] = copper ? ["light", "build", "proof"] : ["light", "strands", "build", "proof"];
  return (
    <Flex role="group" aria-label="Lens">
      {lenses.map((one) => (
        <Button
          key={one}
          size="xs"
          variant={one === lens ? "solid" : "outline"}
          aria-pressed={one === lens}
          onClick={() => onLens(one)}
        >
          {one === "light" && copper ? "Length" : WORDS[one]}
        </Button>
      ))}
    </Flex>
  );
}
