import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { EndOut, Project, TurnUpOut } from "../shared/api";
import { rateText, sourceText } from "../shared/format";
import { EndLight } from "./EndLight";
import { ModulePages } from "./ModulePages";
import { PortForm } from "./PortForm";
import { PortOfBox } from "./PortOfBox";
import { type PowerScale, ageText } from "./scale";

interface Props {
  id: number;
  end: EndOut;
  out: TurnUpOut;
  scale: PowerScale;
  project: Project | undefined;
}

/** One end of a link: the box and port that it is, what it reads against what it must, and how old that is. */
export function EndPanel({ id, end, out, scale, project }: Props) {
  const [open, setOpen] = useState<"" | "type" | "box" | "pages">("");
  const seen = out.turnup.seen[end.end];
  const windows = out.turnup.windows.filter((one) => one.end === end.end);
  const lanes = out.lanes.filter((one) => one.end === end.end);
  const age = out.ages_s[end.end];
  const why = windows.find((one) => one.why_not)?.why_not;
  const rx = windows.find((one) => one.quantity === "rx power");
  const press = (name: "type" | "box" | "pages", words: string) => (
    <Button
      size="sm"
      variant={open === name ? "solid" : "outline"}
      aria-expanded={open === name}
      onClick={() => setOpen(open === name ? "" : name)}
    >
      {words}
    </Button>
  );
  return (
    <Box
      as="section"
      flex="1"
      minW={{ base: "100%", md: "330px" }}
      aria-label={`${end.place}, ${end.end} end`}
      data-end={end.end}
      borderTopWidth="1px"
      pt={2}
    >
      <Flex justify="space-between" align="baseline" gap={2} wrap="wrap">
        <Heading as="h2" size="sm" fontWeight={600}>
          {end.place}
        </Heading>
        <Text fontSize="12px" color="fg.muted" data-testid={`age-${end.end}`}>
          {out.live.includes(end.end) ? "from the box, " : seen ? "written down, " : ""}
          {ageText(age)}
        </Text>
      </Flex>
      <Text fontSize="13px">
        {end.box ? `${end.box_name} port ${end.port}` : "no box is said"}
        {end.application ? `, ${end.application}` : ""}
        {seen?.serial ? `, serial ${seen.serial}` : ""}
      </Text>
      <Text fontSize="13px">
        {seen
          ? [
              seen.admin === "down" ? "port shut" : "",
              seen.oper ? `link ${seen.oper}` : "link not looked at",
              seen.oper === "up" && seen.rate_mbps ? rateText(seen.rate_mbps) : "",
              seen.neighbor ? `sees ${seen.neighbor} ${seen.neighbor_port}` : "",
              seen.errors != null ? `${seen.errors} errors` : "",
              seen.temperature_c != null ? `${seen.temperature_c.toFixed(0)} °C` : "",
            ]
              .filter(Boolean)
              .join(", ")
          : end.reads
            ? "Press Read both ends."
            : `Values are typed${end.why_not_read ? `: ${end.why_not_read}` : ""}.`}
      </Text>
      {[...(end.more ?? []), out.corrected?.[end.end], out.errors?.[end.end]?.words].filter(Boolean).length > 0 && (
        <Text fontSize="13px" color="fg.muted">
          {[...(end.more ?? []), out.corrected?.[end.end], out.errors?.[end.end]?.words].filter(Boolean).join("; ")}
        </Text>
      )}
      {end.correction && (
        <Text fontSize="12px" color="fg.muted">
          error correction: {end.correction}
        </Text>
      )}
      {end.trouble && (
        <Text fontSize="13px" role="status" borderLeftWidth="3px" borderColor="fg" pl={2}>
          {end.trouble}
        </Text>
      )}
      <EndLight windows={windows} lanes={lanes} scale={scale} />
      {rx?.bounds && lanes.length > 0 && (
        <Text fontSize="12px" color="fg.muted" maxW="60ch">
          {rx.bounds}
        </Text>
      )}
      {why ? (
        <Text fontSize="12px" color="fg.muted">
          No window: {why}.
        </Text>
      ) : (
        rx && (
          <details>
            <Text as="summary" fontSize="12px" color="fg.muted" cursor="pointer">
              Why this window? {rx.as_measured ? "Tightened by accepted readings" : "From the plan"}, ±
              {rx.off_by_db ?? 3} dB for the module's own reading
              {rx.on_estimate ? ", on estimate" : ""}
            </Text>
            {(rx.sources ?? []).map((one) => (
              <Text key={sourceText(one)} fontSize="12px">
                {sourceText(one)}
              </Text>
            ))}
            <Text fontSize="12px">
              A module's own reading never replaces a meter, in acceptance or in the budget.
            </Text>
          </details>
        )
      )}
      <Flex gap={2} wrap="wrap" mt={1} className="no-print">
        {press("type", "Type what it shows")}
        {press("box", end.box ? "Other port" : "Which port is it?")}
        {press("pages", "Module pages")}
      </Flex>
      {open === "type" && <PortForm id={id} end={end} lanes={windows[0]?.lanes ?? 1} onDone={() => setOpen("")} />}
      {open === "box" && <PortOfBox id={id} end={end} project={project} onDone={() => setOpen("")} />}
      {open === "pages" && <ModulePages id={id} end={end.end} />}
    </Box>
  );
}
