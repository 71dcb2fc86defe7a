// Made by 'make types' from the core: not written by hand.
export const SPACES = ["indoors", "plenum", "riser", "duct", "buried", "aerial", "wet", "sunlight", "beside power", "between buildings"] as const;
export const JACKETS = ["unknown", "general", "riser", "plenum", "low smoke, no halogen", "outdoor"] as const;
export const RATES = [100, 1000, 2500, 5000, 10000, 25000, 40000, 50000, 100000, 200000, 400000] as const;
export const MEDIA = ["direct attach", "twisted pair", "multimode", "single-mode"] as const;
export const LOSS_CLASSES = [["mated pair", "by the house's profile"], ["mated pair, standard", "standard maximum"], ["mated pair, low-loss", "low-loss guaranteed"], ["grade B", "IEC grade B, single-mode"], ["grade C", "IEC grade C, single-mode"], ["grade D", "IEC grade D, single-mode"]] as const;
export const PLACE_KINDS = ["site", "building", "floor", "room", "cabinet", "pole", "pit"] as const;
export const WAY_KINDS = ["tray", "riser", "conduit", "duct", "trench", "aerial", "wall", "rented"] as const;
export const SURROUNDINGS = ["unknown", "office", "plant room", "cold store", "outdoors", "underground", "wet"] as const;
export const PLACE_POWER = ["mains", "none", "unknown"] as const;
export const STATES = ["existing", "planned", "ordered", "delivered", "installed", "tested", "dead"] as const;
export const LENGTH_BY = ["unsaid", "guess", "drawing", "wheel", "pulled", "light"] as const;
export const CABLE_ENDS = ["unknown", "panel", "pigtails", "splice tray", "coiled, dark"] as const;
export const HEAD_ENDS = ["unknown", "near", "far", "both"] as const;
export const GROUPINGS = ["tubes", "ribbons", "units"] as const;
export const POWER_CLASSES = ["class 1", "class 2", "class 3", "class 4", "class 5", "class 6", "class 7", "class 8"] as const;
