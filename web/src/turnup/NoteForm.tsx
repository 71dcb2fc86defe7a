import { Box, Button, Flex, Heading, Input } from "@chakra-ui/react";
import { useState } from "react";

import { PictureField } from "../proof/PictureField";
import { useByWhom } from "../proof/who";
import type { LogLine, Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { here } from "./WhoHere";
import { LogLines } from "./LogLines";
import { useSay } from "./queries";

interface Props {
  id?: number;
  log: readonly LogLine[];
  project: Project | undefined;
}

/** The logbook of a link: entries are only added; a later one puts an earlier one right. */
export function NoteForm({ id, log, project }: Props) {
  const [words, setWords] = useState("");
  const [picture, setPicture] = useState("");
  const [corrects, setCorrects] = useState("");
  const [by] = useByWhom();
  const put = useSay<object, unknown>(() =>
    id === undefined ? `/projects/${project?.id}/log` : `/links/${id}/turnup/log`,
  );
  const of = log.find((one) => one.key === corrects);
  return (
    <Box as="section" aria-label="Logbook" mt={4}>
      <Heading as="h2" size="sm" fontWeight={600}>
        Logbook
      </Heading>
      <Flex
        as="form"
        gap={2}
        wrap="wrap"
        align="center"
        fontSize="13px"
        className="no-print"
        onSubmit={(event) => {
          event.preventDefault();
          const wish = { about: picture ? "picture" : "note", words, picture, corrects, ...here(by) };
          put.mutate(wish, {
            onSuccess: () => {
              setWords("");
              setPicture("");
              setCorrects("");
            },
          });
        }}
      >
        <label>
          {of ? "in its place" : "note"}{" "}
          <Input
            size="sm"
            width={{ base: "240px", md: "380px" }}
            borderColor="border.emphasized"
            value={words}
            maxLength={2000}
            onChange={(event) => setWords(event.target.value)}
          />
        </label>
        <PictureField onPicture={setPicture} />
        <Button size="sm" type="submit" disabled={!words.trim()} loading={put.isPending}>
          {of ? "Correct it" : "Add"}
        </Button>
        {of && (
          <Button size="sm" variant="outline" onClick={() => setCorrects("")}>
            Correct nothing
          </Button>
        )}
      </Flex>
      <ProblemNote error={put.error} />
      <LogLines lines={log} onCorrect={setCorrects} />
    </Box>
  );
}
