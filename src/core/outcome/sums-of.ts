/** People of a run by what became of their text: each in one of these, so that they add up to all of them. */
export interface RunSums {
  delivered: number;
  /** Failed at the carrier or the phone, or came too late for it. */
  notDelivered: number;
  /** Never handed over. */
  notSent: number;
  /** Nobody knows whether it arrived. */
  uncertain: number;
  /** Planned, being handed over, or with the carrier. */
  open: number;
}

/** The sums of a run by its texts' states. */
export function sumsOf(tally: Readonly<Record<string, number>>): RunSums {
  const of = (state: string) => tally[state] ?? 0;
  return {
    delivered: of('delivered'),
    notDelivered: of('not_delivered') + of('expired'),
    notSent: of('not_sent'),
    uncertain: of('uncertain'),
    open: of('planned') + of('handing_over') + of('with_carrier'),
  };
}
