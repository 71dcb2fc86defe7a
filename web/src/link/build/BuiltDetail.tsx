import { Box, Text } from "@chakra-ui/react";

import type { BuiltPiece, OrderLength } from "../../shared/api";
import { lengthText } from "../../shared/format";
import { useSettings } from "../../shared/settings";
import { BY_WORDS } from "../../order/words";

/** One piece as it is built, in words: its length as a bar of its parts, what is bought, its label at both ends. */
export function BuiltDetail({ piece }: { piece: BuiltPiece }) {
  return (
    <Box mt={2} fontSize="13px" aria-label="How it is built" role="group">
      {piece.length && <LengthBar length={piece.length} made={piece.made} />}
      {piece.buys.length > 0 && <Text>Bought for it: {piece.buys.join("; ")}.</Text>}
      {piece.arrived.length > 0 && <Text fontWeight={600}>It came otherwise: {piece.arrived.join(", ")}.</Text>}
      {piece.ends.map((end, i) => (
        <Text key={i}>
          {piece.ends.length > 1 ? (i === 0 ? "Near end" : "Far end") : "Label"}:{" "}
          <b className="figures">{piece.label || "not given yet"}</b>, here {end.near}
          {end.far ? `, leads to ${end.far}` : ""}.
        </Text>
      ))}
    </Box>
  );
}

/** The length that is ordered, to scale: the way, what climbs, loops, slack, waste. */
function LengthBar({ length, made }: { length: OrderLength; made: boolean }) {
  const { unit } = useSettings();
  const parts = [
    ["way", length.way_m, 0.75],
    ["climbs", length.climbs_m ?? 0, 0.6],
    ["loops", length.loops_m ?? 0, 0.45],
    ["slack", length.slack_m ?? 0, 0.3],
    ["waste", made ? 0 : (length.waste_m ?? 0), 0.15],
  ] as const;
  const whole = made ? length.made_m : length.total_m;
  const shown = parts.filter(([, m]) => m > 0);
  const told = shown.map(([name, m]) => `${name} ${lengthText(m, unit)}`).join(" + ");
  return (
    <Box maxW="760px" mb={1}>
      <Box display="flex" height="12px" borderWidth="1px" borderColor="fg" role="img" aria-label={told}>
        {shown.map(([name, m, ink]) => (
          <Box key={name} width={`${(m / whole) * 100}%`} bg="fg" opacity={ink} title={name} />
        ))}
      </Box>
      <Text>
        {told} = <b className="figures">{lengthText(whole, unit)}</b> {made ? "to be made" : "to cut"}; known:{" "}
        {BY_WORDS[length.by ?? "unsaid"]}.
      </Text>
    </Box>
  );
}
