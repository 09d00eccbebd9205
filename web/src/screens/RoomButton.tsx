/** Goes to the other room. */

import { useKeyOf } from "../bench/keymap";
import { changeRoom, useRoom } from "../bench/theme";
import { Button } from "../ui/Button";

export function RoomButton() {
  const now = useRoom();
  const key = useKeyOf("room");
  return (
    <Button look="quiet" title={`${now === "dim" ? "Day room" : "Dim room"}${key && ` (${key})`}`} onClick={changeRoom}>
      {now === "dim" ? "Day" : "Dim"}
    </Button>
  );
}
