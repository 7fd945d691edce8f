import type { ChangePage, Contract } from "../service/api";

/** Where a step is worked: at an end, with its site or its gateway, or by us. */
export function PlaceOf({ c, s }: { c: ChangePage; s: Contract["StepPage"] }) {
  if (s.where === "us") return <>us</>;
  const many = c.tunnels.length > 1;
  const site = s.where === "A" ? c.a.site : c.b.site;
  return (
    <>
      <b className={s.where.toLowerCase()}>
        {s.where} {many ? s.gateway : site}
      </b>
      {many && s.tunnel && ` of ${s.tunnel}`}
    </>
  );
}
