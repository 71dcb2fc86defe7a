import { Button, Text } from "@chakra-ui/react";

import type { LinkDetail, TraceView } from "../shared/api";
import { lengthText } from "../shared/format";
import { useSettings } from "../shared/settings";
import { useEditLink } from "../link/queries";

/** The length by light, one press away from the plan; readings stay, for the cable is the same. */
export function AsBuilt({ view, detail }: { view: TraceView; detail: LinkDetail }) {
  const { unit } = useSettings();
  const edit = useEditLink(detail);
  const longer = view.judged?.longer_m;
  if (longer === null || longer === undefined || !view.event || !view.sheath) return null;
  if (view.judged?.suspect) return <Text fontWeight={600}>{view.judged.suspect}</Text>;
  const inner = view.pieces.filter((piece) => piece.element !== "launch" && piece.element !== "receive");
  const longest = inner.toSorted((a, b) => b.to_m - b.from_m - (a.to_m - a.from_m))[0];
  const piece = detail.link.elements.find((e) => e.id === longest?.element);
  const length = piece && "length_m" in piece ? piece.length_m : null;
  if (!longest || !piece || length == null) return null;
  const made = Number((length + longer).toFixed(2));
  if (Math.abs(longer) < (view.judged?.unsure_m ?? 0) && "length_by" in piece && piece.length_by === "light")
    return null;
  return (
    <>
      <Button
        size="sm"
        variant="outline"
        mt={1}
        className="no-print"
        onClick={() =>
          edit.mutate({
            edits: [{ op: "set", element: longest.element, values: { length_m: made, length_by: "light" } }],
            label: `length by light of ${longest.element}`,
          })
        }
      >
        Take {lengthText(made, unit)} into the plan, measured by light
      </Button>
      <Text color="fg.muted" fontSize="12px">
        Light measures fiber, the marks on the jacket measure sheath: that should read about{" "}
        {lengthText(view.sheath.length_m, unit)} ± {lengthText(view.sheath.unsure_m, unit)} (estimate).
      </Text>
    </>
  );
}
