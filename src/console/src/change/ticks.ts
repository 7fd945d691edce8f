import type { ChangePage, Contract } from "../service/api";

/** What was ticked in this browser and is not in the record yet. */
export interface Tick {
  /** Which step, by its key: numbers can differ once a plan is made again. */
  key: string;
  number: number;
  /** How many attempts at it were known when it was ticked. */
  known: number;
  at: string;
  body: Contract["AttemptStep"];
  /** Why the service refused it, once it has. */
  refused?: string;
}

/** What one queue of ticks needs from around it, so that it can be tested without a browser. */
export interface Around {
  load: () => Tick[];
  save: (ticks: Tick[]) => boolean;
  /** Sends one tick; throws "offline" when the service is not reachable, and what the service said otherwise. */
  send: (tick: Tick) => Promise<ChangePage>;
  sent: (page: ChangePage, tick: Tick) => void;
  changed: (ticks: readonly Tick[]) => void;
}

export const offline = new Error("The service is not reachable.");

/**
 * Ticks in their order: each is kept before it is sent and forgotten once the service has it. While the service is not
 * reachable they wait; what the service refuses stays, and what came after it waits until somebody decides.
 */
export class TickQueue {
  private ticks: Tick[];
  private sending = false;

  constructor(private readonly around: Around) {
    this.ticks = around.load();
  }

  get all(): readonly Tick[] {
    return this.ticks;
  }

  /** Whether there was room to keep it; it is sent in any case. */
  add(tick: Tick): boolean {
    const again = this.ticks.some((t) => t.key === tick.key && t.known === tick.known);
    if (again) return true;
    const kept = this.put([...this.ticks, tick]);
    void this.go();
    return kept;
  }

  /** Throws away one that was refused, or was not sent yet. */
  drop(key: string) {
    this.put(this.ticks.filter((t) => t.key !== key));
    void this.go();
  }

  /** Sends one again that was refused, now that somebody has looked at what is recorded. */
  again(key: string, known: number) {
    this.put(this.ticks.map((t) => (t.key === key ? { ...t, known, refused: undefined } : t)));
    void this.go();
  }

  /** Sends what waits, in order, until one is refused or the service is not reachable. */
  async go() {
    if (this.sending) return;
    this.sending = true;
    try {
      for (let next = this.ticks[0]; next && !next.refused; next = this.ticks[0]) {
        try {
          const page = await this.around.send(next);
          this.put(this.ticks.filter((t) => t !== next));
          this.around.sent(page, next);
        } catch (e) {
          if (e === offline) return;
          const refused = e instanceof Error ? e.message : String(e);
          this.put(this.ticks.map((t) => (t === next ? { ...t, refused } : t)));
          return;
        }
      }
    } finally {
      this.sending = false;
    }
  }

  private put(ticks: Tick[]) {
    this.ticks = ticks;
    const kept = this.around.save(ticks);
    this.around.changed(ticks);
    return kept;
  }
}

/** The step to go on to: the first open one after this, or the first open one at all. */
export function nextStep(c: ChangePage, ticks: readonly Tick[], after?: string) {
  const open = c.steps.filter((s) => isOpen(s, ticks));
  const from = c.steps.findIndex((s) => s.key === after);
  return (open.find((s) => s.number > (c.steps[from]?.number ?? 0)) ?? open[0])?.key;
}

/** Whether a step is neither done nor skipped, as far as this browser knows. */
export const isOpen = (s: Contract["StepPage"], ticks: readonly Tick[]) =>
  (!s.outcome || s.outcome === "failed") && !ticks.some((t) => t.key === s.key && t.body.outcome !== "failed");
