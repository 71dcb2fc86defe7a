import { Box, Text } from "@chakra-ui/react";

import { Choice } from "../shared/Choice";
import { rateText } from "../shared/format";
import { useCatalog, useLinks } from "../shared/queries";

const LATER = [10_000, 25_000, 40_000, 100_000, 400_000];

export interface More {
  near: string;
  far: string;
  strands: string;
  fiber: string;
  application: string;
  like: string;
  tolerance: string;
  later: string;
  rank: string;
  way: string;
}

export const NOTHING_MORE: More = { near: "", far: "", strands: "2", fiber: "", application: "", like: "", tolerance: "0", later: "", rank: "school", way: "" };

/** What is known beyond distance and speed: ports, strands, glass that is there, a link to copy. */
export function MoreQuestions({ projectId, more, onChange }: { projectId: number | undefined; more: More; onChange: (more: More) => void }) {
  const catalog = useCatalog().data;
  const links = useLinks(projectId).data ?? [];
  const named = (names: string[] | undefined): [string, string][] => names?.map((name) => [name, name]) ?? [];
  const cages = named(catalog?.cages.filter((cage) => cage.optical).map((cage) => cage.name));
  const rows: [keyof More, string, [string, string][]][] = [
    ["near", "Port here", [["", "any cage"], ...cages]],
    ["far", "Port there", [["", "any cage"], ...cages]],
    ["strands", "Strands", [["2", "two strands"], ["1", "one strand only"]]],
    ["fiber", "Glass that is there", [["", "none: new cable"], ...(more.fiber.includes(",") ? [[more.fiber, more.fiber.replaceAll(",", " or ")] as [string, string]] : []), ...named(catalog?.fibers.map((fiber) => fiber.name))]],
    ["tolerance", "Length is", [["0", "measured"], ["5", "estimated, ± 5 %"], ["10", "estimated, ± 10 %"], ["20", "estimated, ± 20 %"]]],
    ["later", "Speed later", [["", "the same"], ...LATER.map((mbps): [string, string] => [String(mbps), rateText(mbps)])]],
    ["way", "The way", [["", "inside one building"], ["between", "between buildings"]]],
    ["rank", "First by", [["school", "the house's school"], ["cost", "smallest cost"], ["margin", "widest margin"], ["later speed", "what carries the later speed"]]],
    ["application", "Application", [["", "the best answer"], ...named(catalog?.applications.map((a) => a.name))]],
    ["like", "Like", [["", "no template"], ...links.map((row): [string, string] => [String(row.id), row.name])]],
  ];
  const open = Object.keys(NOTHING_MORE).some((key) => more[key as keyof More] !== NOTHING_MORE[key as keyof More]);
  return (
    <Box asChild fontSize="12.5px">
      <details open={open || undefined}>
        <summary>length, later speed, ports, glass, order</summary>
        {rows.map(([key, label, options]) => (
          <Box key={key} display="grid" gridTemplateColumns="86px minmax(0, 1fr)" gap={1} alignItems="center" mt={1}>
            <Text color="fg.muted">{label}</Text>
            <Choice label={label} width="100%" value={more[key]} options={options} onChange={(value) => onChange({ ...more, [key]: value })} />
          </Box>
        ))}
      </details>
    </Box>
  );
}
