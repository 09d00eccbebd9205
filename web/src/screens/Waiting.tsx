/** A screen that is not there yet, or will not come. */

import { Link } from "react-router";
import { Bar } from "./Bar";

export function Waiting({ error }: { readonly error: Error | null }) {
  return (
    <>
      <Bar>{null}</Bar>
      <p className="quiet" role={error ? "alert" : "status"} style={{ padding: 32 }}>
        {error ? error.message : "One moment…"}{" "}
        {error && (
          <Link to="/" className="word">
            all projects
          </Link>
        )}
      </p>
    </>
  );
}
