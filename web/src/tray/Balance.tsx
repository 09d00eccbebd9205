/** Beside the temperature: a press on what should be grey sets it and the tint. */

import { useBench } from "../bench/store";
import { Button } from "../ui/Button";

export function Balance() {
  const on = useBench((state) => state.balancing);
  return (
    <Button
      className="mx-2 w-16 flex-none self-start text-left"
      aria-pressed={on}
      title="Press on the picture what should be grey, or drag a box over it: temperature and tint follow"
      onClick={() => useBench.setState({ balancing: !on })}
    >
      {on ? "press on a grey" : "balance by a grey…"}
    </Button>
  );
}
