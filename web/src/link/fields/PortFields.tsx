import { asTyped } from "../../shared/doubt";
import type { Catalog, Element } from "../../shared/api";
import { ChoiceField } from "./ChoiceField";
import type { SetValues } from "./values";
import { RatesField } from "./RatesField";
import { TypedField } from "./TypedField";

type Port = Extract<Element, { kind: "port" }>;
const POLICIES = [
  ["any", "modules of any coding"],
  ["own only", "its own make's coding only"],
  ["own above a rate", "own coding only above a rate"],
  ["override", "any, after an override setting"],
  ["any, telemetry lost", "any, without reading its power"],
] as const;
const WATER = [
  ["dry", "dry"],
  ["splashed", "splashed"],
  ["hosed", "hosed down"],
  ["flooded", "flooded at times"],
] as const;

/** Where the port is, what it takes, and which speeds it can be set to. */
export function PortFields({ piece, catalog, set }: { piece: Port; catalog?: Catalog; set: SetValues }) {
  return (
    <>
      <TypedField label="place" value={piece.place ?? ""} onCommit={(place) => set({ place })} />
      <ChoiceField
        label="cage"
        value={piece.cage}
        options={catalog?.cages.map((c) => c.name) ?? [piece.cage]}
        onChange={(cage) => set({ cage })}
      />
      <RatesField label="speeds" value={piece.rates_mbps ?? []} onChange={(rates_mbps) => set({ rates_mbps })} />
      {piece.cage.includes("Q") || piece.cage.startsWith("CFP") ? (
        <ChoiceField
          label="can be split"
          value={(piece.splits ?? []).join(",")}
          options={[
            ["", "not known"],
            ...(["2", "4", "8", "10", "2,4", "4,8"] as const).map(
              (one) => [one, `into ${one.replace(",", " or ")}`] as const,
            ),
          ]}
          onChange={(text) => set({ splits: text ? text.split(",").map(Number) : [] })}
        />
      ) : null}
      <ChoiceField
        label="accepts"
        value={piece.coding_policy ?? "any"}
        options={POLICIES}
        onChange={(coding_policy) => set({ coding_policy })}
      />
      {piece.coding_policy === "own above a rate" && (
        <TypedField
          label="above, Mb/s"
          value={String(piece.own_above_mbps ?? 0)}
          onCommit={(text) => set({ own_above_mbps: text })}
        />
      )}
      <TypedField
        label="coldest °C"
        value={piece.coldest_c == null ? "" : String(piece.coldest_c)}
        placeholder="-25"
        onCommit={(text) => set({ coldest_c: asTyped(text) })}
      />
      <TypedField
        label="hottest °C"
        value={piece.hottest_c == null ? "" : String(piece.hottest_c)}
        placeholder="40"
        onCommit={(text) => set({ hottest_c: asTyped(text) })}
      />
      <ChoiceField
        label="water"
        value={piece.water ?? "dry"}
        options={WATER}
        onChange={(water) => set({ water })}
      />
      <ChoiceField
        label="dust"
        value={piece.dusty ? "dusty" : "clean"}
        options={["clean", "dusty"]}
        onChange={(word) => set({ dusty: word === "dusty" })}
      />
      {((piece.water ?? "dry") !== "dry" || piece.dusty) && (
        <ChoiceField
          label="box"
          value={piece.ingress ?? "unknown"}
          options={[
            ["unknown", "class not known"],
            ...(catalog?.ingress_classes.map((c) => [c.name, `${c.name}, box or cabinet`] as const) ?? []),
          ]}
          onChange={(ingress) => set({ ingress })}
        />
      )}
      {piece.coding_policy !== "any" && piece.coding_policy && (
        <TypedField label="make" value={piece.make ?? ""} placeholder="make A" onCommit={(make) => set({ make })} />
      )}
    </>
  );
}
