import { useQuery } from "@tanstack/react-query";
import { useLocation, useParams, useSearchParams } from "react-router";
import { Problem, Waiting } from "../parts/Page";
import { ask } from "../service/queries";
import { useEngineer, useMe } from "../service/session";
import { kindsOf } from "./DraftFields";
import { DraftForm } from "./DraftForm";
import type { Said, Step } from "./request";

const nothing = { A: [], B: [] };

const distinct = (prefixes: string[]) => [...new Set(prefixes)];

/** What stands instead of the form for whoever may not plan. */
const notForReaders = (
  <p className="empty">Planning a change needs the role engineer. A lead can give it under People.</p>
);

/** Says what should be different of a tunnel. */
export function DraftRoute() {
  const code = useParams().code!;
  const [params] = useSearchParams();
  const brought = useLocation().state as { steps?: Step[] } | null;
  const who = useMe().data?.name ?? "";
  const engineer = useEngineer();
  const page = useQuery(ask.tunnel(code));
  const choices = useQuery(ask.tunnelChoices(code));
  if (!engineer) return notForReaders;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  if (choices.error) return <Problem error={choices.error} again={() => choices.refetch()} />;
  if (page.isPending || choices.isPending) return <Waiting what={code} />;
  const t = page.data;
  const planned = t.state === "planned";
  const kinds = kindsOf("tunnel").filter((kind) =>
    planned ? kind === "new tunnel" || kind === "free" : kind !== "new tunnel",
  );
  const behind = { A: distinct(t.pairs.map((p) => p.a)), B: distinct(t.pairs.map((p) => p.b)) };
  const first: Partial<Said> = {
    kind: kinds.find((kind) => kind === params.get("kind")) ?? kinds[0],
    reason: params.get("reason") ?? "",
    steps: brought?.steps ?? [],
    also: params.getAll("also"),
  };
  return (
    <DraftForm
      key={code + first.kind}
      who={who}
      about={{ code, behind, zones: { A: choices.data.a.timeZone, B: choices.data.b.timeZone } }}
      title={t.name}
      kinds={kinds}
      first={first}
      beside={{ tunnel: t, choices: choices.data }}
      sites={{ A: t.a.site, B: t.b.site }}
    />
  );
}

/** Says what should be different of a gateway. */
export function DraftGatewayRoute() {
  const code = useParams().code!;
  const [params] = useSearchParams();
  const who = useMe().data?.name ?? "";
  const engineer = useEngineer();
  const choices = useQuery(ask.gatewayChoices(code));
  if (!engineer) return notForReaders;
  if (choices.error) return <Problem error={choices.error} again={() => choices.refetch()} />;
  if (choices.isPending) return <Waiting what={code} />;
  const { site, timeZone } = choices.data;
  const kinds = kindsOf("gateway");
  const kind = kinds.find((k) => k === params.get("kind")) ?? kinds[0];
  return (
    <DraftForm
      key={code + kind}
      who={who}
      about={{ code, behind: nothing, zones: { A: timeZone, B: timeZone } }}
      title={`at ${site}`}
      kinds={kinds}
      first={{ kind }}
      beside={{ gateway: choices.data }}
      sites={{ A: site, B: site }}
    />
  );
}

/** A tunnel that is not there yet, between two gateways. */
export function DraftNewRoute() {
  const who = useMe().data?.name ?? "";
  const engineer = useEngineer();
  const [params] = useSearchParams();
  if (!engineer) return notForReaders;
  const gatewayA = params.get("a") ?? "";
  return (
    <DraftForm
      key={gatewayA}
      who={who}
      about={{ code: "new", behind: nothing, zones: { A: "Etc/UTC", B: "Etc/UTC" } }}
      title="A tunnel between two gateways"
      kinds={[]}
      first={{ kind: "new", gatewayA, gatewayB: params.get("b") ?? "" }}
      beside={{}}
      sites={{ A: "", B: "" }}
    />
  );
}
