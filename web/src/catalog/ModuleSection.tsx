import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Project } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { rateText } from "../shared/format";
import { useCatalog, useHouseRules } from "../shared/queries";
import { DatasheetForm } from "./DatasheetForm";

/** The project's own modules from their datasheets: what each is, its source, and one more. */
export function ModuleSection({ project }: { project: Project }) {
  const catalog = useCatalog().data;
  const save = useHouseRules(project);
  const [open, setOpen] = useState(false);
  const own = project.house_rules.own_modules ?? [];
  if (!catalog) return null;
  const names = new Set(own.map((sheet) => sheet.name));
  return (
    <Box
      as="section"
      aria-label="Modules from their datasheets"
      mb={4}
      pb={2}
      borderBottomWidth="1px"
      maxW="100ch"
      fontSize="13px"
    >
      <Flex justify="space-between" align="baseline">
        <Heading as="h2" size="sm" fontWeight={600}>
          Modules from their datasheets
        </Heading>
        <Button size="xs" variant="outline" aria-expanded={open} onClick={() => setOpen(!open)}>
          Add a module
        </Button>
      </Flex>
      <Text color="fg.muted">
        A module that is sold beyond a clause is judged by its own sheet, everywhere in this project: New link,
        reviews, fixes, what if, the plan file.
      </Text>
      <ProblemNote error={save.error} />
      {own.map((sheet) => (
        <Flex key={sheet.name} gap={3} mt={1} align="baseline" data-module={sheet.name}>
          <Text fontWeight={600}>{sheet.name}</Text>
          <Text>
            {rateText(sheet.rate_mbps)}, {sheet.wavelengths_nm.join("/")} nm, nearest to {sheet.like}; datasheet:{" "}
            {sheet.source}
          </Text>
          <Button
            size="2xs"
            variant="outline"
            aria-label={`Take out ${sheet.name}`}
            onClick={() =>
              save.mutate({ ...project.house_rules, own_modules: own.filter((one) => one.name !== sheet.name) })
            }
          >
            Take out
          </Button>
        </Flex>
      ))}
      {open && (
        <DatasheetForm
          classes={catalog.applications.filter((application) => !names.has(application.name))}
          busy={save.isPending}
          onTake={(sheet) =>
            save.mutate(
              { ...project.house_rules, own_modules: [...own, sheet] },
              { onSuccess: () => setOpen(false) },
            )
          }
        />
      )}
    </Box>
  );
}
