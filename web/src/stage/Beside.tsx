/** What stands beside the result at the same zoom and place: the source, or another shot of the project as it is done. */

import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, asked, type ProjectDetail, type Shot } from "../api/client";
import { useBench } from "../bench/store";
import { likewise, type Size, type Zoom } from "../document/zoom";
import { Button } from "../ui/Button";
import { Chevron } from "../icons/icons";
import { OtherPicture, SourcePicture } from "./Picture";
import { usePanZoom } from "./usePanZoom";
import { useZoom } from "./useZoom";
import { Tag } from "./Tag";

type Props = { readonly project: ProjectDetail; readonly shot: Shot };

export function Beside({ project, shot }: Props) {
  const element = useRef<HTMLDivElement>(null);
  const stage = useBench((state) => state.stage);
  const beside = useBench((state) => state.beside);
  const picture: Size = { width: shot.width, height: shot.height };
  const zoom = useZoom(stage, picture);
  const { panning, onPointerDown } = usePanZoom(element, { zoom, stage, picture });
  const other = project.shots.find(({ id }) => id === beside && id !== shot.id);
  return (
    <div ref={element} role="group" aria-label="Beside the stage" className={`stage border-r border-line${panning ? " panning" : ""}`} onPointerDown={onPointerDown}>
      {zoom && stage && other && <Other key={other.id} {...{ project, stage, other, zoom, picture }} />}
      {zoom && stage && !other && <SourcePicture {...{ zoom, stage, picture }} shown={1} />}
      <Which {...{ project, shot }} other={other} />
    </div>
  );
}

type OtherProps = {
  readonly project: ProjectDetail;
  readonly other: Shot;
  readonly stage: Size;
  readonly zoom: Zoom;
  /** the picture that the zoom is of */
  readonly picture: Size;
};

function Other({ project, other, stage, zoom, picture }: OtherProps) {
  const at = { project: project.id, shot: other.id };
  const { data } = useQuery({
    queryKey: ["beside", other.id, other.head],
    queryFn: () => asked(api.GET("/api/projects/{project}/shots/{shot}/bench", { params: { path: at } })),
  });
  if (!data) return null;
  const size: Size = { width: other.width, height: other.height };
  return <OtherPicture at={at} sheet={data.sheet} zoom={likewise(zoom, picture, size)} stage={stage} picture={size} />;
}

/** Says what stands here; a press goes through the source and the other shots, one by one. */
function Which({ project, shot, other }: Props & { readonly other: Shot | undefined }) {
  const places = [null, ...project.shots.filter(({ id }) => id !== shot.id).map(({ id }) => id)];
  const step = (by: number) => {
    const now = places.indexOf(other?.id ?? null);
    useBench.setState({ beside: places.at((now + by) % places.length) ?? null });
  };
  return (
    <Tag className="pointer-events-auto! left-3 flex items-center gap-1" onPointerDown={(event) => event.stopPropagation()}>
      {places.length > 1 && (
        <Button aria-label="The one before, beside" onClick={() => step(-1)}>
          <Chevron to="left" />
        </Button>
      )}
      <span role="status">{other?.name ?? "source"}</span>
      {places.length > 1 && (
        <Button aria-label="The next one, beside" onClick={() => step(1)}>
          <Chevron to="right" />
        </Button>
      )}
    </Tag>
  );
}
