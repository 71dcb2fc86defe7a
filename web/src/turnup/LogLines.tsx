import { Box, Button, Flex, Text } from "@chakra-ui/react";

import { pictureAddress } from "../proof/attachments";
import type { LogLine } from "../shared/api";
import { useProject } from "../shared/queries";

interface Props {
  lines: readonly LogLine[];
  onCorrect?: (key: string) => void;
  withLink?: boolean;
}

/** Entries by day, newest first; what was corrected or withdrawn stays readable. */
export function LogLines({ lines, onCorrect, withLink = false }: Props) {
  const projectId = useProject().data?.id;
  if (!lines.length) {
    return (
      <Text fontSize="13px" color="fg.muted">
        Nothing yet. A tick, a reading, a picture or a note makes an entry; it stays, and a later one can put it
        right.
      </Text>
    );
  }
  const days = [...new Set(lines.map((one) => one.day))];
  return (
    <Box fontSize="13px">
      {days.map((day) => (
        <Box key={day} mt={2}>
          <Text fontWeight={600} className="figures">
            {day || "no date"}
          </Text>
          {lines
            .filter((one) => one.day === day)
            .map((one) => (
              <Flex
                key={one.key}
                gap={2}
                borderTopWidth="1px"
                py="3px"
                align="baseline"
                wrap="wrap"
                data-log={one.kind}
              >
                <Box width="96px" flexShrink={0} color="fg.muted">
                  {one.who || "nobody said"}
                </Box>
                <Box
                  flex="1"
                  minW="200px"
                  textDecoration={one.withdrawn || one.corrected_by ? "line-through" : undefined}
                >
                  {withLink && one.link_name ? <b>{one.link_name}: </b> : null}
                  {one.words}
                  {one.place ? `, at ${one.place}` : ""}
                  {one.serial ? `, ${one.serial}` : ""}
                </Box>
                {one.picture && (
                  <a href={pictureAddress(projectId, one.picture)} target="_blank" rel="noreferrer">
                    picture
                  </a>
                )}
                {one.corrected_by && <span>corrected: {one.corrected_by}</span>}
                {one.withdrawn && <span>withdrawn: {one.withdrawn}</span>}
                {onCorrect && one.kind === "log" && !one.withdrawn && !one.corrected_by && (
                  <Button
                    size="xs"
                    variant="outline"
                    aria-label={`Correct ${one.words}`}
                    onClick={() => onCorrect(one.key)}
                  >
                    Correct
                  </Button>
                )}
              </Flex>
            ))}
        </Box>
      ))}
    </Box>
  );
}
