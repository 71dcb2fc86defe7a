const LOW = -6;
const HIGH = 10;
const place = (db: number) => ((Math.min(Math.max(db, LOW), HIGH) - LOW) / (HIGH - LOW)) * 100;

/** A margin as a bar from zero, with the house margin marked: to the right is room, to the left is missing. */
export function MarginBar({ margin_db, house_db }: { margin_db: number | null; house_db: number }) {
  const zero = place(0);
  const end = margin_db === null ? zero : place(margin_db);
  return (
    <svg width="110" height="16" viewBox="0 0 100 16" preserveAspectRatio="none" aria-hidden>
      <path d={`M0 8H100`} stroke="var(--chakra-colors-border)" strokeWidth="1" />
      {margin_db !== null && (
        <rect
          x={Math.min(zero, end)}
          y="4"
          width={Math.abs(end - zero)}
          height="8"
          fill={margin_db < 0 ? "none" : "var(--chakra-colors-fg)"}
          stroke="var(--chakra-colors-fg)"
          strokeWidth="1"
        />
      )}
      <path d={`M${zero} 1V15`} stroke="var(--chakra-colors-fg)" strokeWidth="1.4" />
      <path
        d={`M${place(house_db)} 1V15`}
        stroke="var(--chakra-colors-fg-muted)"
        strokeWidth="1.4"
        strokeDasharray="2 2"
      />
    </svg>
  );
}
