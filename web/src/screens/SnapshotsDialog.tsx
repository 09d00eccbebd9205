/** Snapshots: named states of the sheet to come back to. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Address, api, asked, type Snapshot } from "../api/client";
import { returnTo, takeSnapshot } from "../bench/saving";
import { useBench } from "../bench/store";
import { Dialog } from "../ui/Dialog";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Line, Say } from "../ui/Words";

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
        className="my-4 flex gap-2.5"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) take.mutate();
        }}
      >
        <Field
          aria-label="Name of the snapshot"
          placeholder="Name the sheet as it stands"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Button type="submit" look="line" disabled={!name.trim() || take.isPending}>
          Keep
        </Button>
      </form>
      {take.error && (
        <Say role="alert">
          {take.error.message}
        </Say>
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
  if (list.length === 0) return <Say>{waiting ? "One moment…" : "No snapshot is kept yet."}</Say>;
  return (
    <div className="grid gap-1.5">
      {list.map((each) => (
        <Line key={each.id}>
          <span className="text-ink">{each.name}</span>
          <span>{new Date(each.created).toLocaleString()}</span>
          <Button title="Brings the sheet back as it was then; can be undone" className="ml-auto" disabled={busy} onClick={() => onReturn(each)}>
            return to it
          </Button>
        </Line>
      ))}
    </div>
  );
}
