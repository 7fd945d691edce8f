import { useQuery } from "@tanstack/react-query";
import { PairTicks } from "../parts/controls/PairTicks";
import { ask } from "../service/queries";
import { isMap, type Fields, type Value } from "./form";

const gatewayOf = (form: Fields, end: "a" | "b") => {
  const at = form[end];
  return isMap(at) && typeof at.gateway === "string" ? at.gateway : "";
};

const pairsOf = (value: Value | undefined) =>
  (Array.isArray(value) ? value : []).flatMap((p) =>
    isMap(p) && typeof p.a === "string" && typeof p.b === "string" ? [{ a: p.a, b: p.b }] : [],
  );

/** The pairs of a tunnel as a grid of the networks of both its sites. */
export function usePairsControl(form: Fields) {
  const [a, b] = [gatewayOf(form, "a"), gatewayOf(form, "b")];
  const between = useQuery({ ...ask.newTunnel(a, b), enabled: a !== "" && b !== "" });
  return (value: Value | undefined, set: (v: Value | undefined) => void) => (
    <PairTicks
      a={{ site: between.data?.a.site ?? "", networks: between.data?.a.networks ?? [] }}
      b={{ site: between.data?.b.site ?? "", networks: between.data?.b.networks ?? [] }}
      pairs={pairsOf(value)}
      set={(pairs) => set(pairs.length > 0 ? pairs.map((p) => ({ a: p.a, b: p.b })) : undefined)}
    />
  );
}
