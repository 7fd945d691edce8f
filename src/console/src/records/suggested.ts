import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, unwrap } from "../api";
import { useDelayed } from "../parts/useDelayed";
import type { Fields } from "./form";
import type { Plural } from "./kinds";

const text = (form: Fields, key: string) => (typeof form[key] === "string" ? form[key] : "");

/** Fills the code of a new record in from its name and whose it is, as long as nobody has typed one. */
export function useSuggestedCode(plural: Plural | undefined, form: Fields, fill: (code: string) => void) {
  const name = useDelayed(plural === "gateways" ? text(form, "site") : text(form, "name"), 250);
  const under = plural === "sites" ? text(form, "customer") : plural === "gateways" ? text(form, "site") : "";
  const ready = (plural === "customers" || plural === "sites" || plural === "gateways") && name !== "";
  const suggested = useQuery({
    queryKey: ["code", plural, name, under],
    queryFn: () => unwrap(api.GET("/api/v1/choices/code", { params: { query: { of: plural ?? "", name, under } } })),
    enabled: ready && (plural === "customers" || under !== ""),
    staleTime: 30_000,
  });
  const filled = useRef("");
  const code = suggested.data?.code;
  const now = text(form, "code");
  useEffect(() => {
    if (!code || code === now || (now !== "" && now !== filled.current)) return;
    filled.current = code;
    fill(code);
    // Only another suggestion fills it in; what somebody types stays.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [code, now]);
}
