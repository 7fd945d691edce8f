import { parseDate, parseDateTime, type CalendarDate, type CalendarDateTime } from "@internationalized/date";
import type { ReactNode } from "react";
import { DateField, DateInput, DateSegment, I18nProvider, Label, Text } from "react-aria-components";

/** A clock that hangs somewhere: at a site, or the one of UTC. */
export interface Clock {
  name: ReactNode;
  zone: string;
}

/** A date and time by the clock of one place, with what the other place's clock shows then beside it. */
export function MomentField(props: {
  label: ReactNode;
  /** As the clock shows it, such as 2026-11-27T21:00; empty when nothing is said. */
  value: string;
  set: (value: string) => void;
  clock: Clock;
  other?: Clock;
}) {
  const { label, value, set, clock, other } = props;
  return (
    <I18nProvider locale="en-ZA">
      <DateField<CalendarDateTime>
        className="field"
        granularity="minute"
        hourCycle={24}
        value={value ? parseDateTime(value) : null}
        onChange={(d) => set(d ? d.toString().slice(0, 16) : "")}
      >
        <Label>{label}</Label>
        <DateInput className="segments mono">{(s) => <DateSegment segment={s} className="segment" />}</DateInput>
        <span className="src">
          {clock.name} ({clock.zone})
          {value && other && other.zone !== clock.zone && (
            <>
              ; {other.name} {shownIn(instantOf(value, clock.zone), other.zone)}
            </>
          )}
        </span>
      </DateField>
    </I18nProvider>
  );
}

/** A day, as year, month and day. */
export function DayField(props: {
  label: ReactNode;
  /** Such as 2027-03-31; empty when nothing is said. */
  value: string;
  set: (value: string) => void;
  help?: ReactNode;
}) {
  const { label, value, set, help } = props;
  return (
    <I18nProvider locale="en-ZA">
      <DateField<CalendarDate>
        className="field"
        granularity="day"
        value={/^\d{4}-\d{2}-\d{2}$/.test(value) ? parseDate(value) : null}
        onChange={(d) => set(d ? d.toString() : "")}
      >
        <Label>{label}</Label>
        <DateInput className="segments mono">{(s) => <DateSegment segment={s} className="segment" />}</DateInput>
        {help && (
          <Text slot="description" className="src">
            {help}
          </Text>
        )}
      </DateField>
    </I18nProvider>
  );
}

/** What a clock in a zone shows at an instant. */
export function shownIn(instant: Date, zone: string) {
  return new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    weekday: "short",
    day: "numeric",
    month: "short",
    ...(instant.getUTCFullYear() === new Date().getUTCFullYear() ? {} : { year: "numeric" }),
    hour: "2-digit",
    minute: "2-digit",
  }).format(instant);
}

/** The instant at which a clock in a zone shows a time: the time as though it were UTC, less what the zone is ahead. */
export function instantOf(wall: string, zone: string) {
  const asUtc = Date.parse(`${wall.slice(0, 16)}:00Z`);
  const first = asUtc - ahead(asUtc, zone);
  return new Date(asUtc - ahead(first, zone));
}

function ahead(instant: number, zone: string) {
  const parts = new Intl.DateTimeFormat("en-US", {
    timeZone: zone,
    hourCycle: "h23",
    year: "numeric",
    month: "numeric",
    day: "numeric",
    hour: "numeric",
    minute: "numeric",
    second: "numeric",
  }).formatToParts(instant);
  const at = (type: string) => Number(parts.find((p) => p.type === type)?.value);
  return Date.UTC(at("year"), at("month") - 1, at("day"), at("hour"), at("minute"), at("second")) - instant;
}
