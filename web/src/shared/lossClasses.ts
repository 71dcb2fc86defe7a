/** Loss classes of panels: the stored name, and what it means to a person. */
export const LOSS_CLASSES = [
  ["mated pair", "by the house's profile"],
  ["mated pair, standard", "standard maximum"],
  ["mated pair, low-loss", "low-loss guaranteed"],
  ["grade B", "IEC grade B, single-mode"],
  ["grade C", "IEC grade C, single-mode"],
  ["grade D", "IEC grade D, single-mode"],
] as const;
