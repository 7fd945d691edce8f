import { useState, type ReactNode } from "react";
import { Amount } from "../parts/controls/Amount";
import { Ask } from "../parts/controls/Ask";
import { Choice, YesNo, type Known } from "../parts/controls/Choice";
import { Codes } from "../parts/controls/Codes";
import { Copy } from "../parts/controls/Copy";
import { DpdField, IdentityField, InitiationField, LifetimeField, PfsField } from "../records/ValueFields";
import { TickList } from "../records/TickList";
import { KeyVersions, type KeyVersionsHeld } from "../parts/controls/KeyVersions";
import { Rows, type Row } from "../parts/controls/Rows";
import { FileDrop } from "../parts/controls/FileDrop";
import { Confirmed, HowChosen, type ConfirmedHow } from "../parts/controls/ConfirmedHow";
import { Line } from "../parts/controls/Line";
import { List } from "../parts/controls/List";
import { PairTicks, type Pair } from "../parts/controls/PairTicks";
import { Picker, PickOne } from "../parts/controls/Picker";
import { Prefixes } from "../parts/controls/Prefixes";
import { Proposals } from "../parts/controls/Proposals";
import { State, type Held } from "../parts/controls/State";
import { Tabs } from "../parts/controls/Tabs";
import { DayField, MomentField } from "../parts/controls/DateTimeFields";
import { Head, Problem } from "../parts/Page";
import { tell } from "../parts/notices";
import { zones } from "../parts/zones";

/** Every control of the console with its states, for whoever builds the next page. Nothing here is written anywhere. */
export function PartsRoute() {
  return (
    <>
      <Head title="Controls" sub="Each once, with its states. What is typed here goes nowhere." />
      <Texts />
      <Chosen />
      <Networks />
      <Protection />
      <Settings />
      <OnTheDevice />
      <Times />
      <States />
      <Lists />
      <Told />
    </>
  );
}

function Shelf({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="formpart">
      <h2>{title}</h2>
      <div className="fieldgrid">{children}</div>
    </section>
  );
}

function Texts() {
  const [text, setText] = useState("churn-gw1");
  const [minutes, setMinutes] = useState(60);
  return (
    <Shelf title="Texts and numbers">
      <Line label="Line" value={text} set={setText} help="help stands below" mono />
      <Line label="Line, refused" value={text} set={setText} wrong="there is no gateway 'churn-gw1'" />
      <Amount label="Amount" unit="min" value={minutes} set={setMinutes} least={1} most={1440} step={15} />
      <Copy text="10.61.40.0/24" label="value" />
    </Shelf>
  );
}

function Chosen() {
  const [gateway, setGateway] = useState("");
  const [zone, setZone] = useState("Europe/London");
  const [tunnels, setTunnels] = useState<string[]>(["BRI-ASHLOW"]);
  const [end, setEnd] = useState<"A" | "B">("A");
  const [known, setKnown] = useState<Known>("unknown");
  const [tab, setTab] = useState<"one" | "other">("one");
  return (
    <Shelf title="Choosing">
      <Picker of="gateways" label="Picker: found by code, name, site or address" value={gateway} set={setGateway} />
      <PickOne label="One of those at hand" value={zone} set={setZone} options={zones()} />
      <Codes label="Several" of="tunnels" value={tunnels} set={setTunnels} />
      <Choice
        label="Choice, in line"
        inLine
        value={end}
        set={setEnd}
        of={[
          { value: "A", label: <span className="a">A</span> },
          { value: "B", label: <span className="b">B</span> },
        ]}
      />
      <YesNo label="Yes, no, unknown" value={known} set={setKnown} />
      <Tabs
        label="Tabs"
        chosen={tab}
        choose={setTab}
        of={[
          { tab: "one", title: "One" },
          { tab: "other", title: "The other" },
        ]}
      >
        <p>This is {tab === "one" ? "one" : "the other"}.</p>
      </Tabs>
    </Shelf>
  );
}

const networks = {
  a: [
    { prefix: "10.61.0.0/24", name: "offices" },
    { prefix: "10.61.8.0/22", name: "plant" },
  ],
  b: [{ prefix: "10.62.4.0/24", name: "creamery" }],
};

function Networks() {
  const [prefixes, setPrefixes] = useState(["10.61.0.0/24", "10.61.0.7/25"]);
  const [pairs, setPairs] = useState<readonly Pair[]>([{ a: "10.61.0.0/24", b: "10.62.4.0/24" }]);
  return (
    <Shelf title="Networks">
      <Prefixes
        label="Prefixes: paste several with any separator"
        value={prefixes}
        set={setPrefixes}
        networks={networks.a}
      />
      <PairTicks
        a={{ site: "Churn House", networks: networks.a }}
        b={{ site: "Ashlow", networks: networks.b }}
        pairs={[...pairs]}
        set={setPairs}
      />
    </Shelf>
  );
}

function Protection() {
  const [ike, setIke] = useState(["AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14"]);
  const [esp, setEsp] = useState<string[]>([]);
  return (
    <Shelf title="Proposals, in order, in any spelling that the import reads">
      <Proposals label="IKE proposals" of="IKE" value={ike} set={setIke} />
      <Proposals label="ESP proposals" of="ESP" value={esp} set={setEsp} offered={["AES-256-GCM-16"]} />
    </Shelf>
  );
}

function Settings() {
  const [lifetime, setLifetime] = useState("8 h");
  const [pfs, setPfs] = useState("required DH 14");
  const [identity, setIdentity] = useState("fqdn churn.brindle.example");
  const [initiation, setInitiation] = useState("always");
  const [dpd, setDpd] = useState("20 s x 5, try again");
  return (
    <Shelf title="Settings that have parts">
      <LifetimeField
        label="Lifetime, with what each end types"
        value={lifetime}
        set={setLifetime}
        words={["seconds", "minutes", "hours"]}
        units={[
          { end: "A", unit: "seconds" },
          { end: "B", unit: "minutes" },
        ]}
      />
      <PfsField label="PFS" value={pfs} set={setPfs} words={["required", "optional", "accepts only", "refused"]} />
      <IdentityField
        label="Identity"
        value={identity}
        set={setIdentity}
        words={["address", "fqdn", "e-mail", "dn", "key-id"]}
      />
      <InitiationField
        label="Initiation"
        value={initiation}
        set={setInitiation}
        words={["always", "on traffic", "responds only"]}
      />
      <DpdField label="DPD" value={dpd} set={setDpd} words={["give up", "wait for traffic", "try again"]} />
    </Shelf>
  );
}

function OnTheDevice() {
  const [versions, setVersions] = useState<KeyVersionsHeld | undefined>({ both: ["3"] });
  const [eachWay, setEachWay] = useState<KeyVersionsHeld | undefined>({ send: ["3"], receive: ["3", "4"] });
  const [modes, setModes] = useState<string[]>(["main"]);
  const [rules, setRules] = useState<Row[]>([{ way: "both", local: "10.61.0.0/24", remote: "10.62.4.0/24" }]);
  const [routes, setRoutes] = useState<Row[]>([]);
  return (
    <Shelf title="What stands on a device">
      <KeyVersions label="Key version" held={versions ?? {}} set={setVersions} />
      <KeyVersions label="Key version, one for each direction" held={eachWay ?? {}} set={setEachWay} />
      <TickList
        label="Tick list"
        words={["main", "aggressive"]}
        chosen={modes}
        put={(word, ticked) => setModes(ticked ? [...modes, word] : modes.filter((m) => m !== word))}
      />
      <div>
        <Rows
          label="Rows: firewall rules"
          one="rule"
          parts={[
            { key: "way", label: "way", words: ["both", "in", "out"] },
            { key: "local", label: "local", words: [] },
            { key: "remote", label: "remote", words: [] },
          ]}
          rows={rules}
          set={setRules}
        />
      </div>
      <div>
        <Rows
          label="Rows, none yet: routes"
          one="route"
          parts={[
            { key: "to", label: "to", words: [] },
            { key: "into", label: "into", words: ["tunnel", "discard"] },
          ]}
          rows={routes}
          set={setRoutes}
        />
      </div>
    </Shelf>
  );
}

function Times() {
  const [when, setWhen] = useState("2026-11-27T21:00");
  const [day, setDay] = useState("");
  return (
    <Shelf title="Days and times">
      <MomentField
        label="Date and time by a site's clock"
        value={when}
        set={setWhen}
        clock={{ zone: "Europe/London", name: "at Churn House" }}
        other={{ zone: "America/Halifax", name: "at Nova" }}
      />
      <DayField label="Day" value={day} set={setDay} help="nothing is said yet" />
    </Shelf>
  );
}

function States() {
  const [known, setKnown] = useState<Held>({ state: "known", value: "1400", confirmed: "read 2026-11-03 by ines" });
  const [now, setNow] = useState<Held>({
    state: "temporary",
    value: "1300",
    final: "1400",
    reason: "the line is a spare one",
    deadline: "2027-01-31",
  });
  const [open, setOpen] = useState<Held>({ state: "pending", who: "Ottmar at the carrier", by: "2026-12-05" });
  const [how, setHow] = useState<ConfirmedHow>("read");
  const [confirmed, setConfirmed] = useState<string | undefined>();
  const control = (value: string, set: (v: string) => void, label: string) => (
    <Line label={label} value={value} set={set} mono />
  );
  return (
    <Shelf title="A value with its state">
      <State label="Known and confirmed" held={known} set={setKnown} control={control} who="tomas" />
      <State label="Only for now" held={now} set={setNow} control={control} who="tomas" />
      <State label="Not known yet" held={open} set={setOpen} control={control} who="tomas" />
      <Confirmed value={confirmed} set={setConfirmed} who="tomas" />
      <HowChosen how={how} set={setHow} />
    </Shelf>
  );
}

const rows = [
  { code: "BRI-2", name: "second" },
  { code: "BRI-10", name: "tenth" },
  { code: "BRI-1", name: "first" },
];

function Lists() {
  return (
    <section className="formpart">
      <h2>List: sorted in natural order, columns chosen, rows selected</h2>
      <List
        name="shelf"
        label="Rows"
        rows={rows}
        keyOf={(r) => r.code}
        columns={[
          { id: "code", head: "Code", by: (r) => r.code, cell: (r) => <span className="mono">{r.code}</span> },
          { id: "name", head: "Name", by: (r) => r.name, cell: (r) => r.name },
        ]}
        acts={(selected) => <button onClick={() => tell({ text: `${selected.length} told.` })}>Tell</button>}
      />
    </section>
  );
}

function Told() {
  const [asked, setAsked] = useState(false);
  const [file, setFile] = useState("");
  return (
    <section className="formpart">
      <h2>What happens, and what went wrong</h2>
      <div className="acts starts">
        <button type="button" onClick={() => tell({ text: "BRI-0003 was sent for review.", to: "/changes" })}>
          Tell that something was done
        </button>
        <button type="button" className="first" onClick={() => setAsked(true)}>
          Ask in a dialog
        </button>
        <button type="button" disabled>
          Not possible now
        </button>
      </div>
      <FileDrop
        label="Drop a file"
        choose="Choose a file"
        about="it is not read"
        take={(f) => setFile(f.name)}
        taken={file && <code>{file}</code>}
      />
      <Problem error={new Error("The service could not be reached.")} again={() => tell({ text: "Tried again." })} />
      {asked && (
        <Ask title="A dialog" onLeave={() => setAsked(false)}>
          <p>Escape leaves it, and so does a press beside it, unless something typed would be lost.</p>
          <div className="acts">
            <button className="first" onClick={() => setAsked(false)}>
              Leave
            </button>
          </div>
        </Ask>
      )}
    </section>
  );
}
