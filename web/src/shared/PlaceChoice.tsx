import { Choice } from "./Choice";

interface Props {
  links: readonly { places: readonly string[] }[];
  value: string;
  onChange: (place: string) => void;
}

/** Which place's links are shown; empty for every place. */
export function PlaceChoice({ links, value, onChange }: Props) {
  const places = [...new Set(links.flatMap((one) => one.places))].sort();
  return (
    <Choice
      label="Place"
      value={value}
      options={[["", "every place"], ...places.map((one) => [one, one] as const)]}
      onChange={onChange}
    />
  );
}
