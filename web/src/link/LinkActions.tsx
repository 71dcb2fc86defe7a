import { Button, Flex } from "@chakra-ui/react";
import { useNavigate } from "react-router";

import type { LinkDetail } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { type EditWish, useDeleteLink, useDuplicateLink } from "./queries";
import { askedAgain } from "../start/again";
import { MADE } from "./useFocusMade";

/** What is done with a link as a whole. Each can be undone. */
export function LinkActions({
  detail,
  edit,
  whatIf,
  onWhatIf,
}: {
  detail: LinkDetail;
  edit: (wish: EditWish) => void;
  whatIf: boolean;
  onWhatIf: () => void;
}) {
  const navigate = useNavigate();
  const duplicate = useDuplicateLink();
  const remove = useDeleteLink();
  return (
    <>
      <Flex gap={2} className="no-print" wrap="wrap">
        <Button size="xs" variant="outline" aria-expanded={whatIf} onClick={onWhatIf}>
          What if
        </Button>
        <Button size="xs" variant="outline" onClick={() => navigate(`/links/${detail.id}?${askedAgain(detail)}`)}>
          Other answers
        </Button>
        <Button
          size="xs"
          variant="outline"
          onClick={() => edit({ edits: [{ op: "reverse" }], label: "draw it from the other end" })}
        >
          Reverse
        </Button>
        <Button
          size="xs"
          variant="outline"
          onClick={() => duplicate.mutate(detail.id, { onSuccess: (copy) => navigate(`/links/${copy.id}`, MADE) })}
        >
          Duplicate
        </Button>
        <Button size="xs" variant="outline" onClick={() => navigate(`/links/${detail.id}?like=${detail.id}`)}>
          Use as template
        </Button>
        <Button
          size="xs"
          variant="outline"
          onClick={() => remove.mutate(detail, { onSuccess: () => navigate("/links") })}
        >
          Remove
        </Button>
        <Button size="xs" variant="outline" onClick={() => navigate(`/turnup/${detail.id}`)}>
          Turn-up
        </Button>
        <Button size="xs" variant="outline" onClick={() => window.print()}>
          Print
        </Button>
      </Flex>
      <ProblemNote error={duplicate.error ?? remove.error} />
    </>
  );
}
