import { Input } from "@chakra-ui/react";
import { useState } from "react";

import { ProblemNote } from "../shared/ProblemNote";
import { useProject } from "../shared/queries";
import { sendFile } from "./attachments";

/** A picture of a face, from the scope's own file. */
export function PictureField({ onPicture }: { onPicture: (hash: string) => void }) {
  const projectId = useProject().data?.id;
  const [error, setError] = useState<unknown>(null);
  async function take(file: File | undefined) {
    if (!file) return;
    setError(null);
    try {
      onPicture((await sendFile(projectId, file)).hash);
    } catch (problem) {
      setError(problem);
    }
  }
  return (
    <label>
      picture{" "}
      <Input
        type="file"
        size="xs"
        width="180px"
        accept="image/png,image/jpeg"
        borderColor="border.emphasized"
        onChange={(event) => void take(event.target.files?.[0])}
      />
      <ProblemNote error={error} />
    </label>
  );
}
