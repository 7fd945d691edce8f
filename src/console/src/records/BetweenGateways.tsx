import { useQueries, useQuery } from "@tanstack/react-query";
import { api, unwrap, type Contract } from "../service/api";
import { ask } from "../service/queries";
import { queryKeyOf } from "../service/questions";

/** The strongest that both gateways support: in IKEv2 where both speak it, else in IKEv1. */
export function useStrongest(a: string, b: string, enabled: boolean) {
  return useQuery({
    queryKey: queryKeyOf("strongest", a, b),
    queryFn: async () => {
      const under = (version: string) =>
        unwrap(api.GET("/api/v1/calc/common", { params: { query: { a, b, version } } }));
      const newer = await under("IKEv2");
      return newer.bothSpeak ? newer : under("IKEv1");
    },
    enabled,
    retry: false,
  });
}

/** The two ends that are named: where each stands, what it shows to the other, and what both can do. */
export function BetweenGateways({ a, b }: { a: string; b: string }) {
  const known = useQueries({
    queries: [a, b].map((code) => ({
      ...ask.gateway(code),
      enabled: code.length > 2,
      retry: false,
    })),
  });
  const [near, far] = known.map((k) => k.data);
  const common = useStrongest(a, b, !!near && !!far);
  if (!near && !far) return null;
  const drawnEnd = (end: "a" | "b", g: Contract["GatewayPage"] | undefined) => (
    <div>
      {g && (
        <>
          <b className={end}>
            {end.toUpperCase()} {g.site}
          </b>{" "}
          <span className="src">
            {g.platformName} · run by {g.runBy}
          </span>
          {g.uplinks.map((u) => (
            <div key={u.label}>
              <code>{u.outer}</code> <span className="src">{u.label}</span>
            </div>
          ))}
        </>
      )}
    </div>
  );
  return (
    <section aria-label="The two ends">
      <div className="thenow">
        {drawnEnd("a", near)}
        {drawnEnd("b", far)}
      </div>
      {common.data && (
        <p>
          {!common.data.bothSpeak || common.data.ike.length === 0 ? (
            <span className="stops">They have no IKE proposal in common.</span>
          ) : (
            <>
              Both support <code>{common.data.ike[0].proposal}</code> in {common.data.version}
              {common.data.esp.length > 0 && (
                <>
                  , and <code>{common.data.esp[0].proposal}</code> for ESP
                </>
              )}
              .
            </>
          )}
        </p>
      )}
    </section>
  );
}
