import { Flex } from "@chakra-ui/react";

import type { Catalog } from "../shared/api";
import { Choice } from "../shared/Choice";
import { Toggle } from "../shared/Toggle";
import { MEDIA, SPACES } from "../shared/generated/lists";
import { toggled } from "../shared/spaces";
import { Line, NumberLine } from "./Line";
import { type Change, type More, countOf } from "./wish";

const CATEGORIES = ["Category 5e", "Category 6", "Category 6A", "Category 8"] as const;
const pairs = (names: readonly string[] | undefined): [string, string][] =>
  names?.map((name) => [name, name]) ?? [];

/** The way and what lies there already: surroundings, glass, strands, twisted pair, modules to use again. */
export function WayQuestions({
  more,
  catalog,
  onChange,
}: {
  more: More;
  catalog: Catalog | undefined;
  onChange: Change;
}) {
  const glass = more.fiber.join(",");
  return (
    <>
      <Line words="length is">
        <Choice
          label="Length is"
          width="100%"
          value={String(more.tolerance_percent)}
          options={[
            ["0", "measured"],
            ["5", "estimated, ± 5 %"],
            ["10", "estimated, ± 10 %"],
            ["20", "estimated, ± 20 %"],
          ]}
          onChange={(text) => onChange({ tolerance_percent: Number(text) })}
        />
      </Line>
      <Line words="the way passes">
        <Flex gap={1} wrap="wrap" role="group" aria-label="The way passes">
          {SPACES.map((space) => (
            <Toggle
              key={space}
              words={space}
              on={more.spaces.includes(space)}
              onChange={() => onChange({ spaces: toggled(SPACES, more.spaces, space) })}
            />
          ))}
        </Flex>
      </Line>
      <Line words="cable there">
        <Choice
          label="Cable that is there"
          width="100%"
          value={glass}
          options={[
            ["", "none: new cable"],
            ...(more.fiber.length > 1 ? [[glass, more.fiber.join(" or ")] as [string, string]] : []),
            ...pairs(catalog?.fibers.map((fiber) => fiber.name)),
          ]}
          onChange={(text) => onChange({ fiber: text ? text.split(",") : [] })}
        />
      </Line>
      {more.fiber.length === 0 && (
        <Line words="new glass">
          <Choice
            label="New glass"
            width="100%"
            value={more.grade}
            options={[["", "OM4 or OS2"], ...pairs(catalog?.fibers.map((fiber) => fiber.name))]}
            onChange={(grade) => onChange({ grade })}
          />
        </Line>
      )}
      <Line words="strands">
        <Choice
          label="Strands"
          width="100%"
          value={String(more.strands)}
          options={[
            ["2", "two for this link"],
            ["1", "one strand only"],
          ]}
          onChange={(text) => onChange({ strands: text === "1" ? 1 : 2 })}
        />
      </Line>
      {more.fiber.length > 0 && (
        <NumberLine
          words="strands free"
          label="Strands free"
          value={more.free_strands}
          placeholder="not said"
          onChange={(text) => onChange({ free_strands: countOf(text) })}
        />
      )}
      <Line words="twisted pair there">
        <Choice
          label="Twisted pair that is there"
          width="100%"
          value={more.category ?? ""}
          options={[["", "none: new cable"], ...pairs(CATEGORIES)]}
          onChange={(text) => onChange({ category: (text || null) as More["category"] })}
        />
      </Line>
      <Line words="modules there">
        <Choice
          label="Modules at hand"
          width="100%"
          value=""
          options={[
            ["", more.at_hand.length ? `${more.at_hand.length} at hand; add one` : "none"],
            ...pairs(catalog?.applications.map((one) => one.name)),
          ]}
          onChange={(name) => name && onChange({ at_hand: [...more.at_hand, name] })}
        />
      </Line>
      {more.at_hand.length > 0 && (
        <Line words="">
          <Flex gap={1} wrap="wrap">
            {more.at_hand.map((name, i) => (
              <Toggle
                key={i}
                words={`${name} ×`}
                on
                onChange={() => onChange({ at_hand: more.at_hand.filter((_, other) => other !== i) })}
              />
            ))}
          </Flex>
        </Line>
      )}
      <Line words="media allowed">
        <Flex gap={1} wrap="wrap" role="group" aria-label="Media allowed">
          {MEDIA.map((medium) => (
            <Toggle
              key={medium}
              words={medium}
              on={more.media.includes(medium)}
              onChange={() => onChange({ media: toggled(MEDIA, more.media, medium) })}
            />
          ))}
        </Flex>
      </Line>
    </>
  );
}
