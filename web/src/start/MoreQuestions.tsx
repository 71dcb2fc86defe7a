import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

import { Choice } from "../shared/Choice";
import { useCatalog, useLinks } from "../shared/queries";
import { Line } from "./Line";
import { ArrayQuestions } from "./ArrayQuestions";
import { OrderQuestions } from "./OrderQuestions";
import { PortQuestions } from "./PortQuestions";
import { WayQuestions } from "./WayQuestions";
import { type Change, type More, NOTHING_MORE } from "./wish";

/** What is known beyond distance and speed, folded: what counts, the way and what is there, the two ports. */
export function MoreQuestions({
  projectId,
  more,
  like,
  onChange,
  onLike,
}: {
  projectId: number | undefined;
  more: More;
  like: string;
  onChange: Change;
  onLike: (like: string) => void;
}) {
  const catalog = useCatalog().data;
  const links = useLinks(projectId).data ?? [];
  const differs = (...keys: (keyof More)[]) =>
    keys.some((key) => JSON.stringify(more[key]) !== JSON.stringify(NOTHING_MORE[key]));
  return (
    <>
      <Fold
        title="Later speed, order, price"
        open={differs("later_mbps", "rank_by", "price_limit", "outage_matters")}
      >
        <OrderQuestions more={more} onChange={onChange} />
      </Fold>
      <Fold
        title="The way, and what is there"
        open={differs("tolerance_percent", "spaces", "fiber", "grade", "strands", "category", "at_hand", "media")}
      >
        <WayQuestions more={more} catalog={catalog} onChange={onChange} />
      </Fold>
      <Fold title="Array trunk, hosts on a split port" open={differs("trunk", "hosts")}>
        <ArrayQuestions more={more} onChange={onChange} />
      </Fold>
      <Fold title="The two ports" open={differs("near", "far")}>
        <PortQuestions end="here" wish={more.near} catalog={catalog} onChange={(near) => onChange({ near })} />
        <PortQuestions end="there" wish={more.far} catalog={catalog} onChange={(far) => onChange({ far })} />
      </Fold>
      <Fold title="One application, or like a link that is there" open={differs("application") || like !== ""}>
        <Line words="application">
          <Choice
            label="Application"
            width="100%"
            value={more.application}
            options={[
              ["", "the best answer"],
              ...(catalog?.applications.map((one): [string, string] => [one.name, one.name]) ?? []),
            ]}
            onChange={(application) => onChange({ application })}
          />
        </Line>
        <Line words="like">
          <Choice
            label="Like"
            width="100%"
            value={like}
            options={[["", "no template"], ...links.map((row): [string, string] => [String(row.id), row.name])]}
            onChange={onLike}
          />
        </Line>
      </Fold>
    </>
  );
}

/** Folded questions; what was answered keeps them open. */
const Fold = ({ title, open, children }: { title: string; open: boolean; children: ReactNode }) => (
  <Box asChild borderTopWidth="1px" py={1} fontSize="13px">
    <details open={open || undefined}>
      <summary>{title}</summary>
      {children}
    </details>
  </Box>
);
