const KEY = "last-use";

type Uses = Record<string, { at: string; file: string }>;

function uses(): Uses {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Uses;
  } catch {
    return {};
  }
}

/** Keeps that something went in or out now, and the file's name; in this browser alone. */
export function used(projectId: number, use: string, file = "") {
  localStorage.setItem(
    KEY,
    JSON.stringify({ ...uses(), [`${projectId} ${use}`]: { at: new Date().toISOString(), file } }),
  );
}

/** When something last went in or out, with its file; empty while it never did. */
export function lastUse(projectId: number, use: string): string {
  const found = uses()[`${projectId} ${use}`];
  if (!found) return "";
  const at = new Date(found.at).toLocaleString("en-US", { dateStyle: "medium", timeStyle: "short" });
  return found.file ? `${at}, ${found.file}` : at;
}
