import { Button, Flex } from "@chakra-ui/react";

import type { LinkDetail } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useMeasureArray } from "./queries";
import { type ByWhom, signed } from "./who";

/** Every strand of an array in one go: the switch lights one after the other, the wide-area meter sees where it comes out. */
export function ArrayButton({ detail, family, by }: { detail: LinkDetail; family: string; by: ByWhom }) {
  const measure = useMeasureArray(detail);
  return (
    <>
      <Flex gap={2} mt={2} wrap="wrap">
        {(family === "multimode" ? [850, 1300] : [1310, 1550]).map((nm) => (
          <Button
            key={nm}
            size="sm"
            variant="outline"
            loading={measure.isPending}
            onClick={() => measure.mutate({ ...signed(by), wavelength_nm: nm })}
          >
            Read the whole array at {nm} nm
          </Button>
        ))}
      </Flex>
      <ProblemNote error={measure.error} />
    </>
  );
}
