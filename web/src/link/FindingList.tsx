import { Box, Flex, Heading, Text, chakra } from "@chakra-ui/react";

import type { Finding, Fix, LinkDetail } from "../shared/api";
import { VerdictMark, severityVerdict } from "../shared/VerdictMark";
import { sourceText } from "../shared/format";
import type { EditWish } from "./queries";
import { FixButton } from "./FixButton";
import { pieceName } from "./names";

interface Props {
  detail: LinkDetail;
  onSelect: (id: string) => void;
  take: (wish: EditWish) => void;
  busy: boolean;
  onTry: (fix: Fix | null) => void;
}

/** All findings, worst first, each with its reason, its sources and the fixes that were tried and work. */
export function FindingList({ detail, onSelect, take, busy, onTry }: Props) {
  const { findings } = detail.review;
  return (
    <Box as="section" aria-label="Findings" px={3} py={2}>
      <Heading as="h2" size="sm" fontWeight={600}>
        Findings {findings.length > 0 && <span className="figures">{findings.length}</span>}
      </Heading>
      {findings.length === 0 && (
        <Text color="fg.muted" mt={1}>
          Nothing to say against this link. Change a piece and watch the verdict move.
        </Text>
      )}
      {findings.map((finding) => (
        <FindingCard
          key={finding.code + finding.at.join()}
          finding={finding}
          detail={detail}
          onSelect={onSelect}
          take={take}
          busy={busy}
          onTry={onTry}
        />
      ))}
    </Box>
  );
}

function FindingCard({ finding, detail, onSelect, take, busy, onTry }: { finding: Finding } & Props) {
  const places = finding.marked.flatMap((id) => detail.link.elements.filter((e) => e.id === id));
  const use = (fix: Fix) => take({ edits: [...fix.edits], label: fix.label });
  return (
    <Box as="article" borderTopWidth="1px" py={2} mt={2} data-finding={finding.code}>
      <Flex gap={2} align="baseline">
        <Box pt="2px">
          <VerdictMark verdict={finding.best ?? severityVerdict[finding.severity]} size={14} />
        </Box>
        <Box minW={0}>
          <Text fontWeight={600}>
            <chakra.span textTransform="uppercase" fontSize="11px" letterSpacing="0.05em" mr={1}>
              {finding.severity}
            </chakra.span>
            {finding.what}
          </Text>
          <Flex gap={1} wrap="wrap">
            {places.map((piece) => (
              <chakra.button
                key={piece.id}
                type="button"
                onClick={() => onSelect(piece.id)}
                fontSize="12px"
                color="fg.muted"
                textDecoration="underline"
              >
                {pieceName(piece)}
              </chakra.button>
            ))}
          </Flex>
        </Box>
      </Flex>
      <chakra.details mt={1} fontSize="13px">
        <chakra.summary cursor="pointer" width="fit-content">
          Why?
        </chakra.summary>
        <Text mt={1}>{finding.why}</Text>
        {finding.sources.map((source, i) => (
          <Text key={i} fontSize="12px" color="fg.muted">
            {sourceText(source)}
          </Text>
        ))}
      </chakra.details>
      {finding.caution && (
        <Text mt={1} fontSize="13px" borderLeftWidth="3px" borderColor="fg" pl={2}>
          {finding.caution}
        </Text>
      )}
      {finding.fixes.map((fix) => (
        <FixButton key={fix.label} fix={fix} onTake={() => use(fix)} onTry={onTry} busy={busy} />
      ))}
    </Box>
  );
}
