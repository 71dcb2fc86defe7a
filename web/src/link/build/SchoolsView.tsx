import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";

import type { LinkDetail, SchoolSeen } from "../../shared/api";
import { VerdictMark } from "../../shared/VerdictMark";
import { figureText, sourceText } from "../../shared/format";
import { useProject } from "../../shared/queries";
import { money } from "../../order/words";
import type { EditWish } from "../queries";
import { useSchools } from "./queries";

/** Three ways to make the ends of the run, side by side: what each costs, takes, loses, and what a wrong length means. */
export function SchoolsView({ detail, edit }: { detail: LinkDetail; edit: (wish: EditWish) => void }) {
  const found = useSchools(detail).data;
  const currency = useProject().data?.house_rules.currency ?? "";
  if (!found) return null;
  return (
    <Box as="section" aria-label="Ends of the run" mt={3}>
      <Heading as="h2" size="sm" fontWeight={600}>
        Ends of the run
      </Heading>
      {found.why_not && (
        <Text fontSize="13px" color="fg.muted">
          {found.why_not}
        </Text>
      )}
      <Flex gap={4} wrap="wrap" align="stretch">
        {found.schools.map((school) => (
          <School
            key={school.name}
            school={school}
            currency={currency}
            onTake={() => edit({ edits: [...school.edits], label: `${detail.link.name}: ends ${school.name}` })}
          />
        ))}
      </Flex>
    </Box>
  );
}

function School({ school, currency, onTake }: { school: SchoolSeen; currency: string; onTake: () => void }) {
  return (
    <Box
      flex="1 1 200px"
      maxW="290px"
      fontSize="12.5px"
      borderTopWidth={school.now ? "3px" : "1px"}
      borderColor="fg"
      pt={1}
      mt={1}
    >
      <Text fontWeight={600} fontSize="13px">
        {school.name}
        {school.now ? ", as it is" : ""}
        {school.house ? ", by the house's rule" : ""}
      </Text>
      <Flex align="center" gap={1}>
        <VerdictMark verdict={school.verdict} />
        <span>{school.verdict_text}</span>
        <span className="figures">
          {school.worst_db == null ? "" : `, ${figureText(school.worst_db)} dB at worst`}
        </span>
      </Flex>
      <Text>
        <span className="figures">{money(school.parts_price)}</span> parts +{" "}
        <span className="figures">{school.hours}</span> h{" "}
        <span className="figures">{money(school.hours_price)}</span> ={" "}
        <b className="figures">
          {money(school.total)} {currency}
        </b>
      </Text>
      {school.parts.map((part) => (
        <Text key={part.words} color="fg.muted">
          <span className="figures">{part.quantity}</span>
          {part.unit === "m" ? " m" : ""} {part.words}
        </Text>
      ))}
      <Text>{school.tools.join(", ")}.</Text>
      <Text>{school.duct}</Text>
      {school.blocked.map((words) => (
        <Text key={words} fontWeight={600} borderLeftWidth="3px" borderColor="fg" pl={2}>
          {words}
        </Text>
      ))}
      <Text>{school.wrong_length}</Text>
      <Text color="fg.muted">{sourceText(school.source)}</Text>
      {!school.now && (
        <Button size="xs" variant="outline" mt={1} className="no-print" onClick={onTake}>
          Make it so
        </Button>
      )}
    </Box>
  );
}
