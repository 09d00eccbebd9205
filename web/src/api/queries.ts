/** What the screens ask of the server, kept by the query cache. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, asked, type ExportOrder, type Job } from "./client";

export function useCatalogue() {
  return useQuery({ queryKey: ["catalogue"], queryFn: () => asked(api.GET("/api/catalogue")), staleTime: Infinity });
}

/** The formats that are written. */
export function useFormats() {
  return useCatalogue().data?.formats ?? [];
}

/** The formats in which clips are written. */
export function useClipFormats() {
  return useCatalogue().data?.clip_formats ?? [];
}

export function useProjects() {
  return useQuery({ queryKey: ["projects"], queryFn: () => asked(api.GET("/api/projects")) });
}

export function useLooks() {
  return useQuery({ queryKey: ["looks"], queryFn: () => asked(api.GET("/api/looks")) });
}

/** The passes that run on every shot of a project; asked anew with each revision of the shot at hand, which may move them. */
export function useProjectSheet(project: string, revision: number) {
  return useQuery({
    queryKey: ["project-sheet", project, revision],
    placeholderData: (before) => before,
    queryFn: () => asked(api.GET("/api/projects/{project}/sheet", { params: { path: { project } } })),
  });
}

export function useProject(project: string) {
  return useQuery({
    queryKey: ["project", project],
    queryFn: () => asked(api.GET("/api/projects/{project}", { params: { path: { project } } })),
  });
}

const BUSY = new Set(["waiting", "running"]);
const NO_JOBS: readonly Job[] = [];

export function useExports(project: string) {
  return useQuery({
    queryKey: ["exports", project],
    queryFn: () => asked(api.GET("/api/projects/{project}/exports", { params: { path: { project } } })),
    refetchInterval: (query) => (query.state.data?.some((each) => BUSY.has(each.state)) ? 300 : false),
  });
}

/** What a worker does for a project that is no export. */
export function useJobs(project: string) {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["jobs", project],
    queryFn: () => asked(api.GET("/api/projects/{project}/jobs", { params: { path: { project } } })),
    refetchInterval: (query) => (query.state.data?.some((each) => BUSY.has(each.state)) ? 500 : false),
  });
  const ended = found.data?.filter(({ state }) => !BUSY.has(state)).length;
  // a file that was read is a shot
  useEffect(() => void (ended && client.invalidateQueries({ queryKey: ["project", project] })), [client, project, ended]);
  return found.data ?? NO_JOBS;
}

export const runs = ({ state }: { readonly state: string }) => BUSY.has(state);

export function useEndJob(project: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (job: string) => asked(api.DELETE("/api/projects/{project}/jobs/{job}", { params: { path: { project, job } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["jobs", project] }),
  });
}

/** What a shot's file says of itself and would be copied. */
export function useMetadata(project: string, shot: string | null) {
  return useQuery({
    queryKey: ["metadata", project, shot],
    queryFn: () => asked(api.GET("/api/projects/{project}/shots/{shot}/metadata", { params: { path: { project, shot: shot ?? "" } } })),
    enabled: shot !== null,
  });
}

export function useOrderExport(project: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: ExportOrder) =>
      asked(api.POST("/api/projects/{project}/exports", { params: { path: { project } }, body })),
    onSettled: () => client.invalidateQueries({ queryKey: ["exports", project] }),
  });
}

export function useCancelExport(project: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      asked(api.POST("/api/projects/{project}/exports/{export}/cancel", { params: { path: { project, export: id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["exports", project] }),
  });
}

export function useRemoveExport(project: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      asked(api.DELETE("/api/projects/{project}/exports/{export}", { params: { path: { project, export: id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["exports", project] }),
  });
}
