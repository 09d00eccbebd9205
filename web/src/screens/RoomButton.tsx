/** Goes to the other room. */

import { changeRoom, useRoom } from "../bench/room";

export function RoomButton() {
  const now = useRoom();
  return (
    <button type="button" className="plain" onClick={changeRoom}>
      {now === "dim" ? "Day room" : "Dim room"}
    </button>
  );
}
