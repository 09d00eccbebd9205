/** Snapshots: named states of the sheet to come back to. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Address, api, asked, type Snapshot } from "../api/client";
import { returnTo, takeSnapshot } from "../bench/saving";
import { useBench } from "../bench/store";
import { Dialog } from "../marks/Dialog";

type Props = { readonly at: Address; readonly onClose: () => void };

export function SnapshotsDialog({ at, onClose }: Props) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const key = ["snapshots", at.shot];
  const { data = [], isPending } = useQuery({
    queryKey: key,
    queryFn: () => asked(api.GET("/api/projects/{project}/shots/{shot}/snapshots", { params: { path: { ...at } } })),
  });
  const take = useMutation({
    mutationFn: () => takeSnapshot(name.trim()),
    onSuccess: () => setName(""),
    onSettled: () => client.invalidateQueries({ queryKey: key }),
  });
  const back = (snapshot: Snapshot) => {
    onClose();
    void returnTo(snapshot.id);
  };
  return (
    <Dialog title="Snapshots" onClose={onClose}>
      <form
        style={{ display: "flex", gap: 10, margin: "16px 0" }}
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) take.mutate();
        }}
      >
        <input
          className="input input-sm text-field"
          aria-label="Name of the snapshot"
          placeholder="Name the sheet as it stands"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <button type="submit" className="btn btn-sm plain line" disabled={!name.trim() || take.isPending}>
          Keep
        </button>
      </form>
      {take.error && (
        <p className="say" role="alert">
          {take.error.message}
        </p>
      )}
      <Kept list={data} waiting={isPending} onReturn={back} />
    </Dialog>
  );
}

type KeptProps = {
  readonly list: readonly Snapshot[];
  readonly waiting: boolean;
  readonly onReturn: (snapshot: Snapshot) => void;
};

function Kept({ list, waiting, onReturn }: KeptProps) {
  const busy = useBench((state) => state.saving !== "saved");
  if (list.length === 0) return <p className="say">{waiting ? "One moment…" : "No snapshot is kept yet."}</p>;
  return (
    <div style={{ display: "grid", gap: 6 }}>
      {list.map((each) => (
        <p key={each.id} className="line-item">
          <span className="text-ink">{each.name}</span>
          <span>{new Date(each.created).toLocaleString()}</span>
          <button type="button" title="Brings the sheet back as it was then; can be undone" className="word end" disabled={busy} onClick={() => onReturn(each)}>
            return to it
          </button>
        </p>
      ))}
    </div>
  );
}
