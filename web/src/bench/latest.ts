/** One request under way; of those that wait only the newest is sent. */

export type Latest<Order> = {
  readonly want: (order: Order) => void;
  readonly stop: () => void;
};

export function latest<Order>(run: (order: Order, signal: AbortSignal) => Promise<void>): Latest<Order> {
  let waiting: { readonly order: Order } | null = null;
  let busy = false;
  const control = new AbortController();

  async function work(): Promise<void> {
    busy = true;
    while (waiting && !control.signal.aborted) {
      const { order } = waiting;
      waiting = null;
      await run(order, control.signal);
    }
    busy = false;
  }

  return {
    want(order) {
      waiting = { order };
      if (!busy) void work();
    },
    stop() {
      control.abort();
    },
  };
}
