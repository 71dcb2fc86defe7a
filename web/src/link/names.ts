import type { Catalog, Element } from "../shared/api";
import { lengthText, rateText } from "../shared/format";
import { kindName } from "../shared/kinds";
import type { LengthUnit } from "../shared/settings";

/** The words under a piece: what a hand would read off it. */
export function caption(e: Element, unit: LengthUnit, catalog: Catalog | undefined): [string, string] {
  switch (e.kind) {
    case "port":
      return [e.label || e.cage, e.place];
    case "module": {
      const rate = catalog?.applications.find((a) => a.name === e.application)?.rate_mbps;
      const split = (e.legs ?? 1) > 1 ? `, split into ${e.legs}` : "";
      return [e.application.replace(/^.*BASE-/, ""), rate ? rateText(rate) + split : ""];
    }
    case "cord":
    case "pigtail":
    case "run":
      return [lengthText(e.length_m, unit), e.fiber.length ? e.fiber.join(" or ") : "grade?"];
    case "trunk":
    case "array-cord":
      return [`${lengthText(e.length_m, unit)}, ${e.array}`, e.wiring];
    case "breakout":
      return [`${lengthText(e.length_m, unit)}, leg ${e.leg}`, e.inner];
    case "cassette":
      return [`${e.label || "cassette"}, front ${e.front}`, e.inner];
    case "conversion":
      return [e.label || e.converts, `front ${e.front}`];
    case "panel":
      return e.shape.startsWith("MPO")
        ? [e.label || `${e.shape} panel`, e.keys ?? "aligned"]
        : [e.label || "panel", e.shape];
    case "splice":
      return [e.label || "splice", ""];
    case "attenuator":
      return [`${e.value_db} dB`, ""];
    case "twisted":
      return [lengthText(e.length_m, unit), e.category.replace("Category", "Cat.")];
    case "outlet":
      return [e.label || "outlet", "8-way"];
    case "jack":
      return [`${e.form} jack`, e.rates_mbps?.length ? e.rates_mbps.map(rateText).join(", ") : ""];
    case "assembly":
      return [
        `${lengthText(e.length_m, unit)}, ${e.made}`,
        `${e.left_form} to ${e.right_form}${e.legs > 1 ? `, one of ${e.legs} legs` : ""}, ${rateText(e.rate_mbps)}`,
      ];
    default:
      return [(e as { label?: string }).label || kindName((e as { kind: string }).kind), ""];
  }
}

/** A piece in one phrase, for lists and screen readers. */
export function pieceName(e: Element): string {
  const label = e.kind === "module" ? e.application : (e.label ?? "");
  return `${kindName(e.kind)} ${label}`.trim();
}

/** A plug in words: shape and polish. */
export const plugText = (plug: { shape: string; polish: string } | null | undefined): string =>
  plug ? `${plug.shape}/${plug.polish}` : "bare fiber";
