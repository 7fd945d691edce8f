import { isMap, type Fields, type Value } from "./form";

const text = (v: Value | undefined): string =>
  v === undefined ? "" : typeof v === "string" ? v : isMap(v) ? text(v.is ?? v.temporary) : "";

/** An address as it stands in the form: fixed, behind a name, dynamic, or not known yet. */
function addressOf(v: Value | undefined) {
  if (isMap(v) && v.pending !== undefined) return "pending";
  return text(v) || "no address yet";
}

const ROW = 62;
const LEFT = 76;
const RIGHT = 204;

/** The uplinks of a gateway as they are typed: what the device has, what stands before it, seen from outside. */
export function UplinksDrawn({ form }: { form: Fields }) {
  const uplinks = (Array.isArray(form.uplinks) ? form.uplinks : []).filter(isMap);
  if (uplinks.length === 0) return null;
  const height = uplinks.length * ROW + 26;
  const code = text(form.code) || "gateway";
  return (
    <figure className="drawing">
      <svg
        className="crossing"
        viewBox={`0 0 330 ${height}`}
        role="img"
        aria-label={`Uplinks of ${code}: ${uplinks.map(said).join("; ")}`}
      >
        <text className="s" x="0" y="14">
          {code}
        </text>
        <text className="s" x={RIGHT + 12} y="14">
          seen from outside
        </text>
        <path d={`M${LEFT} 22V${height - 4}`} stroke="var(--ink)" strokeWidth="3" />
        {uplinks.map((u, i) => {
          const y = 48 + i * ROW;
          const nat = isMap(u.nat) ? u.nat : undefined;
          return (
            <g key={i}>
              <text className="s" x={LEFT - 10} y={y + 4} textAnchor="end">
                {text(u.label) || "uplink"}
              </text>
              <path d={`M${LEFT} ${y}H${RIGHT}`} stroke="var(--ink)" strokeWidth="1.6" />
              {nat && (
                <>
                  <text className="m" x={LEFT + 8} y={y - 9}>
                    {addressOf(u.address)}
                  </text>
                  <circle cx={RIGHT - 30} cy={y} r="6" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.5" />
                  <text className="s" x={RIGHT - 30} y={y + 22} textAnchor="middle">
                    {text(nat.kind) || "NAT"}
                    {Array.isArray(nat.forwards) ? `, lets in ${nat.forwards.map(text).join(" and ")}` : ""}
                  </text>
                </>
              )}
              <text className="m" x={RIGHT + 12} y={y + 4}>
                {nat ? text(nat.publicAddress) || "address unknown" : addressOf(u.address)}
              </text>
            </g>
          );
        })}
      </svg>
    </figure>
  );
}

function said(u: Fields) {
  const nat = isMap(u.nat) ? u.nat : undefined;
  const own = `${text(u.label) || "uplink"} ${addressOf(u.address)}`;
  return nat ? `${own} behind ${text(nat.kind) || "NAT"}, seen as ${text(nat.publicAddress) || "unknown"}` : own;
}
