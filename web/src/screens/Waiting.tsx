/** A screen that is not there yet, or will not come. */

import { Link } from "react-router";
import { Bar } from "./Bar";
import { LOOKS } from "../ui/Button";
import { Say } from "../ui/Words";

export function Waiting({ error }: { readonly error: Error | null }) {
  return (
    <>
      <Bar>{null}</Bar>
      <Say look="sheet" role={error ? "alert" : "status"} className="p-8">
        {error ? error.message : "One moment…"}{" "}
        {error && (
          <Link to="/" className={LOOKS.word}>
            all projects
          </Link>
        )}
      </Say>
    </>
  );
}
