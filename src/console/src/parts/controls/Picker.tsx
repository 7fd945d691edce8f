import { useQuery } from "@tanstack/react-query";
import { useContext, useEffect, useRef, useState, type ReactNode } from "react";
import {
  Button,
  ComboBox,
  ComboBoxStateContext,
  FieldError,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Text,
} from "react-aria-components";
import { api, unwrap } from "../../service/api";
import type { Plural } from "../../service/recordKinds";
import { queryKeyOf } from "../../service/questions";

export interface Option {
  code: string;
  name: string;
  detail: string;
}

interface Common {
  label: ReactNode;
  value: string;
  set: (code: string) => void;
  help?: ReactNode;
  wrong?: string;
  placeholder?: string;
  required?: boolean;
  autoFocus?: boolean;
  /** The choices open once something is typed, not as soon as the field is reached. */
  quiet?: boolean;
}

/** One of a few that are known already: a time zone, an uplink, a network. What is typed narrows them. */
export function PickOne(props: Common & { options: readonly Option[] }) {
  const [text, setText] = useState<string | null>(null);
  const words = (text ?? "").toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (o: Option) => {
    const all = `${o.code} ${o.name} ${o.detail}`.toLowerCase();
    return words.every((w) => all.includes(w));
  };
  const shown = text === null ? props.options : props.options.filter(fits);
  return <Box {...props} text={text} setText={setText} shown={shown.slice(0, 60)} waiting={false} />;
}

/** A record of a kind, found by code, name or address; a code that is pasted is taken as it is. */
export function Picker(props: Common & { of: Plural }) {
  const [text, setText] = useState<string | null>(null);
  const asked = (text ?? "").trim();
  const found = useQuery({
    queryKey: queryKeyOf("choices", props.of, asked),
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/choices/{kind}", { params: { path: { kind: props.of }, query: { q: asked } }, signal })),
    placeholderData: (last) => last,
    staleTime: 30_000,
  });
  return <Box {...props} text={text} setText={setText} shown={found.data?.items ?? []} waiting={found.isFetching} />;
}

function Box({
  label,
  value,
  set,
  help,
  wrong,
  placeholder,
  required,
  autoFocus,
  quiet,
  text,
  setText,
  shown,
  waiting,
}: Common & {
  text: string | null;
  setText: (text: string | null) => void;
  shown: readonly Option[];
  waiting: boolean;
}) {
  const field = useRef<HTMLDivElement>(null);
  const keepShown = usePageShown();
  const chosen = shown.find((o) => o.code === value);
  // What was typed since something was chosen: leaving the field must not bring it back over the choice.
  const typed = useRef<string | null>(null);
  // A whole code that was typed or pasted is meant, whatever its case; so is the only one that fits what was typed.
  const meant = (text: string) =>
    shown.find((o) => o.code.toUpperCase() === text.toUpperCase())?.code ?? (shown.length === 1 ? shown[0].code : text);
  const settle = () => {
    const text = typed.current?.trim();
    typed.current = null;
    if (!waiting) setText(null);
    if (text === undefined || text === value) return;
    early.current = waiting ? text : null;
    set(waiting || text === "" ? text : meant(text));
  };
  // Whoever typed faster than the choices came gets what was meant once they are there.
  const early = useRef<string | null>(null);
  useEffect(() => {
    if (waiting || early.current === null) return;
    const text = early.current;
    early.current = null;
    if (typed.current !== null) return;
    setText(null);
    if (value === text && meant(text) !== text) set(meant(text));
    // Only when the choices have come.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [waiting]);
  return (
    <ComboBox
      className="field"
      menuTrigger={quiet ? "input" : "focus"}
      allowsCustomValue
      allowsEmptyCollection
      isInvalid={!!wrong}
      isRequired={required}
      validationBehavior="aria"
      items={shown.map((o) => ({ ...o, id: o.code }))}
      inputValue={text ?? value}
      selectedKey={value || null}
      onInputChange={(text) => {
        typed.current = text;
        setText(text);
      }}
      onSelectionChange={(key) => {
        if (key === null) return;
        typed.current = null;
        setText(null);
        set(String(key));
      }}
      onBlur={settle}
      ref={field}
      onOpenChange={(open) => keepShown(open ? field.current : null)}
    >
      <Label>{label}</Label>
      {text !== null && text.trim() !== "" && !waiting && <StandsOut code={meant(text.trim())} />}
      <div className="combo">
        <Input className="mono" placeholder={placeholder} autoFocus={autoFocus} spellCheck="false" />
        <Button aria-label="Show choices">▾</Button>
      </div>
      {chosen && text === null && (chosen.name !== chosen.code || chosen.detail) && (
        <span className="src chosen">
          {[chosen.name !== chosen.code && chosen.name, chosen.detail].filter(Boolean).join(" · ")}
        </span>
      )}
      {help && (
        <Text slot="description" className="src">
          {help}
        </Text>
      )}
      {wrong && <FieldError className="wrong">{wrong}</FieldError>}
      <Popover className="choices-list" offset={2}>
        <ListBox<Option & { id: string }>
          renderEmptyState={() => <p className="src none">{waiting ? "Looking …" : "Nothing fits what is typed."}</p>}
        >
          {(o) => (
            <ListBoxItem id={o.id} textValue={o.code} className="choice">
              <code>{o.code}</code> {o.name !== o.code && o.name} <span className="src">{o.detail}</span>
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </ComboBox>
  );
}

/** What was meant stands out among the choices, so that Enter or Tab takes it. */
function StandsOut({ code }: { code: string }) {
  const box = useContext(ComboBoxStateContext);
  // The list takes up new choices a moment after they have come.
  const listed = box?.isOpen && box.collection.getItem(code) !== null;
  const nothing = box?.selectionManager.focusedKey === null;
  const typed = box?.inputValue;
  useEffect(() => {
    if (!listed || !nothing) return;
    // What is typed takes away what stood out before, in the same moment: this comes after it.
    const soon = setTimeout(() => box.selectionManager.setFocusedKey(code));
    return () => clearTimeout(soon);
    // The state is another one each time something is drawn.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [listed, nothing, code, typed]);
  return null;
}

/**
 * Choices that open hide nothing from whoever has the page read out: they are no dialog. The library takes everything but
 * the field away from readers, except what is marked as lying above; the mark goes when they close, or with the field.
 */
function usePageShown() {
  const marked = useRef<Element | null>(null);
  const mark = (field: Element | null) => {
    marked.current?.removeAttribute(above);
    marked.current = field?.closest("[role=dialog], [role=alertdialog], #root") ?? null;
    marked.current?.setAttribute(above, "");
  };
  useEffect(() => () => marked.current?.removeAttribute(above), []);
  return mark;
}

const above = "data-react-aria-top-layer";
