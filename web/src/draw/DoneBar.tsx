import { Flex } from "@chakra-ui/react";

/** How much of a kind of work is done: full is done, crossed is not good, open is still to do. */
export function DoneBar({
  whole,
  done,
  bad = 0,
  words,
}: {
  whole: number;
  done: number;
  bad?: number;
  words: string;
}) {
  const width = 84;
  const at = (count: number) => (whole ? (count / whole) * width : 0);
  return (
    <Flex gap={1} align="center" minW="180px">
      <svg
        width={width}
        height="12"
        role="img"
        aria-label={`${done} of ${whole} ${words}${bad ? `, ${bad} not good` : ""}`}
      >
        <rect
          x="0.5"
          y="1.5"
          width={width - 1}
          height="9"
          fill="none"
          stroke="var(--chakra-colors-border-emphasized)"
        />
        <rect x="0.5" y="1.5" width={at(done)} height="9" fill="var(--chakra-colors-fg)" />
        {bad > 0 && (
          <path
            d={`M${at(done - bad)} 1.5L${at(done)} 10.5M${at(done)} 1.5L${at(done - bad)} 10.5`}
            stroke="var(--chakra-colors-bg)"
            strokeWidth="2"
          />
        )}
      </svg>
      <span className="figures" style={{ fontSize: 12 }}>
        {done}/{whole}
      </span>
      <span style={{ fontSize: 12 }}>{words}</span>
    </Flex>
  );
}
