import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { unwrap, type Contract, type Writer } from "../service/api";
import { ask } from "../service/queries";
import { useMe } from "../service/session";
import { ReplacePassword } from "./ReplacePassword";
import { Head, moment, Problem, Waiting } from "../parts/Page";
import { useWrite } from "../parts/useWrite";
import { Input, Select } from "../parts/controls/Input";
import { Table } from "../parts/Table";

/** One's own access: password, sessions and tokens. */
export function AccessRoute() {
  const access = useQuery(ask.access());
  const me = useMe();
  if (access.isPending) return <Waiting what="your access" />;
  if (access.error) return <Problem error={access.error} again={() => access.refetch()} />;
  return (
    <>
      <Head
        code={me.data?.name}
        title="Your access"
        sub={`${me.data?.roles.join(" and ")}${me.data?.allCustomers ? ", all customers" : ", for some customers"}`}
      />
      <div className="cols even">
        <div>
          <Sessions
            of={access.data}
            shownBy={ask.access().queryKey}
            end={(id, api) => unwrap(api.DELETE("/api/v1/sessions/{id}", { params: { path: { id } } }))}
          />
          <h2>Password</h2>
          <ReplacePassword />
        </div>
        <div>
          <Tokens
            of={access.data}
            shownBy={ask.access().queryKey}
            end={(id, api) => unwrap(api.DELETE("/api/v1/tokens/{id}", { params: { path: { id } } }))}
          />
          <NewToken />
        </div>
      </div>
    </>
  );
}

/** Ways in, how one of them is ended, and the key of the page that shows them: it is read again then. */
interface Ways {
  of: Contract["AccessPage"];
  end: (id: string, api: Writer) => Promise<unknown>;
  shownBy: readonly unknown[];
}

export function Sessions({ of, end, shownBy }: Ways) {
  const queries = useQueryClient();
  const send = useWrite({ mutationFn: end, onSuccess: () => queries.invalidateQueries({ queryKey: shownBy }) });
  return (
    <>
      <h2>Sessions</h2>
      {of.sessions.length === 0 && <p className="soft">No browser is signed in.</p>}
      {send.error && <Problem error={send.error} />}
      <Table>
        <tbody>
          {of.sessions.map((s) => (
            <tr key={s.id}>
              <td>
                {browser(s.from)} {s.current && <b>this one</b>}
                <div className="src">
                  began {moment(s.began)}, last active {moment(s.lastActive)}
                </div>
              </td>
              <td className="w60">
                {!s.current && (
                  <button className="link" onClick={() => send.mutate(s.id)}>
                    End it
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

/** The long text that browsers send comes down to the name that people know, and where from. */
const browser = (from: string) => {
  const [agent, where] = [from.replace(/ from [^ ]*$/, ""), / from ([^ ]*)$/.exec(from)?.[1]];
  const name = /(Firefox|Edg|Chrome|Safari)\/[\d.]+/.exec(agent)?.[1] ?? agent.slice(0, 40);
  return (
    <>
      {name === "Edg" ? "Edge" : name || "a browser"} <span className="soft">from</span> <code>{where}</code>
    </>
  );
};

export function Tokens({ of, end, shownBy }: Ways) {
  const queries = useQueryClient();
  const send = useWrite({ mutationFn: end, onSuccess: () => queries.invalidateQueries({ queryKey: shownBy }) });
  return (
    <>
      <h2>Tokens</h2>
      {of.tokens.length === 0 && <p className="soft">No tokens.</p>}
      {send.error && <Problem error={send.error} />}
      <Table>
        <tbody>
          {of.tokens.map((t) => (
            <tr key={t.id}>
              <td>
                {t.name} <span className="soft">at most {t.most}</span>
                <div className="src">
                  made {moment(t.made)}, {t.used ? `last used ${moment(t.used)}` : "never used"}, expires{" "}
                  {moment(t.expires)}
                </div>
              </td>
              <td className="w60">
                <button className="link" onClick={() => send.mutate(t.id)}>
                  End it
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

function NewToken() {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [days, setDays] = useState("30");
  const [most, setMost] = useState("reader");
  const make = useWrite({
    mutationFn: (_: void, api) => unwrap(api.POST("/api/v1/tokens", { body: { name, days: Number(days), most } })),
    onSuccess: () => queries.invalidateQueries(ask.access()),
  });
  return (
    <form
      className="filters"
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate();
      }}
    >
      <label>
        Reason
        <Input required value={name} onChange={(e) => setName(e.target.value)} placeholder="laptop" />
      </label>
      <label className="w60">
        Days
        <Input
          className="mono"
          required
          inputMode="numeric"
          pattern="[0-9]+"
          value={days}
          onChange={(e) => setDays(e.target.value)}
        />
      </label>
      <label className="w110">
        At most
        <Select value={most} onChange={(e) => setMost(e.target.value)}>
          {["reader", "engineer", "reviewer", "lead"].map((r) => (
            <option key={r}>{r}</option>
          ))}
        </Select>
      </label>
      <button disabled={make.isPending}>Make a token</button>
      {make.error && <Problem error={make.error} />}
      {make.data && (
        <div className="notice" role="status">
          Shown once: <code className="breaks">{make.data.token}</code>
        </div>
      )}
    </form>
  );
}
