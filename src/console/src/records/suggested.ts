import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, unwrap } from "../service/api";
import { useDelayed } from "../parts/useDelayed";
import type { Fields } from "./form";
import type { Plural } from "../service/recordKinds";
import { queryKeyOf } from "../service/questions";

const text = (form: Fields, key: string) => (typeof form[key] === "string" ? form[key] : "");

/** The kinds that a code is suggested for, and those of them whose code begins with what they belong to. */
const suggests: readonly string[] = ["customers", "sites", "gateways", "platforms"];
const belongs: readonly string[] = ["sites", "gateways"];

/** Fills the code of a new record in from its name and whose it is, as long as nobody has typed one. */
export function useSuggestedCode(plural: Plural | undefined, form: Fields, fill: (code: string) => void) {
  const name = useDelayed(plural === "gateways" ? text(form, "site") : text(form, "name"), 250);
  const under = plural === "sites" ? text(form, "customer") : plural === "gateways" ? text(form, "site") : "";
  const ready = suggests.includes(plural ?? "") && name !== "";
  const suggested = useQuery({
    queryKey: queryKeyOf("code", plural, name, under),
    queryFn: () => unwrap(api.GET("/api/v1/choices/code", { params: { query: { of: plural ?? "", name, under } } })),
    enabled: ready && (!belongs.includes(plural ?? "") || under !== ""),
    staleTime: 30_000,
  });
  const filled = useRef("");
  const code = suggested.data?.code;
  const now = text(form, "code");
  useEffect(() => {
    if (!code || (now !== "" && now !== filled.current && now !== code)) return;
    filled.current = code;
    if (code !== now) fill(code);
    // Only another suggestion fills it in; what somebody types, empties or has written stays.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [code]);
}
