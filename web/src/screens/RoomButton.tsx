/** Goes to the other room. */

import { useKeyOf } from "../bench/keymap";
import { changeRoom, useRoom } from "../bench/room";

export function RoomButton() {
  const now = useRoom();
  const key = useKeyOf("room");
  return (
    <button type="button" className="plain" title={`${now === "dim" ? "Day room" : "Dim room"}${key && ` (${key})`}`} onClick={changeRoom}>
      {now === "dim" ? "Day" : "Dim"}
    </button>
  );
}
