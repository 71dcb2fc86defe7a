import { Button } from "@chakra-ui/react";

/** What a page holds, as files to keep. */
export function Downloads({
  projectId,
  name,
  kinds,
  query = "",
}: {
  projectId: number | undefined;
  name: string;
  kinds: readonly string[];
  query?: string;
}) {
  return (
    <>
      {kinds.map((kind) => (
        <Button key={kind} size="xs" variant="outline" className="no-print" asChild>
          <a href={`/api/v1/projects/${projectId}/${name}.${kind}${query ? `?${query}` : ""}`} download>
            {kind.toUpperCase()}
          </a>
        </Button>
      ))}
      <Button size="xs" variant="outline" className="no-print" onClick={() => window.print()}>
        Print
      </Button>
    </>
  );
}
