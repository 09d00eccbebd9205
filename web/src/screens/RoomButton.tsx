/** Goes to the other room. */

import { changeRoom, useRoom } from "../bench/room";

export function RoomButton() {
  const now = useRoom();
  return (
    <button type="button" className="plain" title={now === "dim" ? "Day room (T)" : "Dim room (T)"} onClick={changeRoom}>
      {now === "dim" ? "Day" : "Dim"}
    </button>
  );
}
