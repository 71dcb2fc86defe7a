import { Choice } from "./Choice";

interface Props {
  /** The places that can be chosen, by name. */
  places: readonly string[];
  value: string;
  onChange: (place: string) => void;
}

/** Which place a page is about; empty for every place. The one way in which a place narrows a list. */
export function PlaceChoice({ places, value, onChange }: Props) {
  const named = [...new Set(places)].filter(Boolean).sort();
  return (
    <Choice
      label="Place"
      value={value}
      options={[["", "every place"], ...named.map((one) => [one, one] as const)]}
      onChange={onChange}
    />
  );
}
