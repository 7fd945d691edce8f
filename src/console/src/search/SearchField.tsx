import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import { useKey } from "../parts/useKey";
import { useShortcuts } from "../parts/shortcuts";
import { placeOf } from "../service/recordKinds";
import { Input } from "../parts/controls/Input";

/** The one search, in the head of every page. */
export function SearchField() {
  const go = useNavigate();
  const field = useRef<HTMLInputElement>(null);
  const at = useLocation();
  const [params] = useSearchParams();
  const [shortcuts] = useShortcuts();
  const searching = at.pathname === "/search";
  const [text, setText] = useState("");
  // The field follows the address while the page of the search is open, and is empty elsewhere.
  useEffect(() => {
    if (document.activeElement !== field.current) setText(searching ? (params.get("q") ?? "") : "");
  }, [searching, params]);
  useKey("/", () => {
    field.current?.focus();
    field.current?.select();
  });
  const open = async (q: string) => {
    if (q === "") return;
    const { hits } = await unwrap(api.GET("/api/v1/search", { params: { query: { q } } }));
    const meant = meantBy(q, hits);
    if (!meant) {
      document.querySelector<HTMLAnchorElement>("a.hit")?.focus();
      return;
    }
    field.current?.blur();
    setText("");
    void go(placeOf(meant.kind, meant.code));
  };
  return (
    <form
      role="search"
      onSubmit={(e) => {
        e.preventDefault();
        void open(text.trim());
      }}
    >
      <Input
        ref={field}
        value={text}
        spellCheck={false}
        aria-label="Find anything: a code, name, address, prefix, identity, contact or finding"
        placeholder="Find a code, name, address, prefix, identity …"
        onChange={(e) => {
          setText(e.target.value);
          void go(`/search?q=${encodeURIComponent(e.target.value)}`, { replace: searching });
        }}
        onKeyDown={(e) => {
          if (e.key !== "Escape") return;
          setText("");
          field.current?.blur();
        }}
      />
      {shortcuts && <kbd>/</kbd>}
    </form>
  );
}

/**
 * What Enter opens: the record of that code, a tunnel before another; else the only tunnel that fits by its own words, or
 * the only record at all. Where several are as likely, none: the first is at hand then, and Enter again opens it.
 */
export function meantBy(q: string, hits: readonly Contract["SearchHit"][]) {
  const exact = hits.filter((h) => h.code.toUpperCase() === q.toUpperCase());
  const sure = exact.find((h) => h.kind === "tunnel") ?? exact[0] ?? (hits.length === 1 ? hits[0] : undefined);
  if (sure) return sure;
  const tunnels = hits.filter((h) => h.kind === "tunnel" && ["code", "name"].includes(h.field));
  return tunnels.length === 1 ? tunnels[0] : undefined;
}
