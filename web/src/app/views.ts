/** The views of the application, in the order of the header: path and name. */
export const VIEWS = [
  ["/links", "Link"],
  ["/ladder", "Ladder"],
  ["/site", "Site"],
  ["/identify", "What cable"],
  ["/reference", "Reference"],
  ["/rules", "House rules"],
  ["/catalog", "Catalog"],
  ["/log", "Log"],
  ["/exchange", "In and out"],
] as const;
