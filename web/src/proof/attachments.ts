import { type Problem, ProblemError } from "../shared/api";

/** Where a picture of a project is. */
export const pictureAddress = (projectId: number | undefined, hash: string): string =>
  `/api/v1/projects/${projectId}/attachments/${hash}`;

/** Sends a trace record or a picture of a project; answers with its hash, or throws what is wrong with it. */
export async function sendFile(
  projectId: number | undefined,
  file: Blob,
): Promise<{ hash: string; media_type: string }> {
  const response = await fetch(`/api/v1/projects/${projectId}/attachments`, {
    method: "POST",
    headers: { "content-type": "application/octet-stream" },
    body: file,
  });
  const content: unknown = await response.json().catch(() => null);
  if (!response.ok) throw new ProblemError(content as Problem);
  return content as { hash: string; media_type: string };
}
