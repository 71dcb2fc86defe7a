import { type Problem, ProblemError } from "../shared/api";

/** Sends a trace record or a picture; answers with its hash, or throws what is wrong with it. */
export async function sendFile(file: Blob): Promise<{ hash: string; media_type: string }> {
  const response = await fetch("/api/v1/attachments", {
    method: "POST",
    headers: { "content-type": "application/octet-stream" },
    body: file,
  });
  const content: unknown = await response.json().catch(() => null);
  if (!response.ok) throw new ProblemError(content as Problem);
  return content as { hash: string; media_type: string };
}
