import type { LinkRow } from "../shared/api";

export interface Stage {
  readonly name: string;
  /** The next work of the links that wait at this stage. */
  readonly waits: readonly LinkRow["stage"][];
  readonly pages: readonly (readonly [path: string, words: string])[];
}

/** The stages of the job in its order, each with its pages, most used first. A stage appears when it is built. */
export const STAGES: readonly Stage[] = [
  {
    name: "Survey",
    waits: ["survey"],
    pages: [
      ["/requirements", "Requirements"],
      ["/places", "Places and devices"],
      ["/identify", "What cable"],
    ],
  },
  {
    name: "Layout",
    waits: [],
    pages: [
      ["/site", "Plan and tables"],
      ["/site/routes", "Routes"],
      ["/site/layouts", "Layouts"],
      ["/site/strands", "Strands"],
      ["/site/backbone", "Backbone"],
      ["/site/trunks", "Trunks"],
      ["/site/capacity", "Capacity"],
      ["/site/power", "Power"],
      ["/site/pull", "Pull sheet"],
      ["/site/closures", "Closures"],
      ["/site/scope", "Scope sheet"],
    ],
  },
  {
    name: "Links",
    waits: ["match", "budget"],
    pages: [
      ["/links", "Link"],
      ["/ladder", "Ladder"],
      ["/splits", "Split ports"],
    ],
  },
  {
    name: "Order",
    waits: ["order"],
    pages: [
      ["/order", "Bill"],
      ["/order/reels", "Reels"],
      ["/order/deliveries", "Deliveries"],
      ["/order/day", "Day of pulling"],
      ["/order/labels", "Labels"],
      ["/order/panels", "Panels"],
    ],
  },
  {
    name: "Test",
    waits: ["test"],
    pages: [
      ["/test", "Left to test"],
      ["/test/references", "References and instruments"],
    ],
  },
  {
    name: "Turn-up",
    waits: ["turn up"],
    pages: [
      ["/turnup", "Left to turn up"],
      ["/turnup/network", "Network"],
      ["/turnup/boxes", "Boxes"],
      ["/turnup/log", "Logbook"],
      ["/turnup/handover", "Hand over"],
    ],
  },
];

export const REFERENCE: Stage = {
  name: "Reference",
  waits: [],
  pages: [
    ["/reference", "Reach, colors, answers"],
    ["/catalog", "Catalog"],
  ],
};

export const PROJECT: Stage = {
  name: "Project",
  waits: [],
  pages: [
    ["/rules", "House rules"],
    ["/log", "Records"],
    ["/exchange", "Import and export"],
  ],
};

const ALL = [...STAGES, REFERENCE, PROJECT];

/** Every page by path and name. */
export const VIEWS = ALL.flatMap((stage) => stage.pages);

/** The stage that a path belongs to; the links where it belongs to none. */
export function stageOf(path: string): Stage {
  const under = (page: string) => path === page || path.startsWith(`${page}/`);
  return (
    ALL.find((stage) => stage.pages.some(([page]) => under(page))) ??
    (STAGES.find((stage) => stage.name === "Links") as Stage)
  );
}

/** How many links wait at a stage. */
export const waiting = (stage: Stage, rows: readonly Pick<LinkRow, "stage">[]): number =>
  rows.filter((row) => stage.waits.includes(row.stage)).length;
