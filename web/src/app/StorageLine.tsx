import { Button, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { type Storage, call } from "../shared/api";
import { bytesText } from "../shared/format";
import { ProblemNote } from "../shared/ProblemNote";

/** What the database takes on the disk, and a way to make it smaller that forgets nothing. */
export function StorageLine() {
  const client = useQueryClient();
  const size = useQuery({ queryKey: ["storage"], queryFn: () => call<Storage>("/storage") });
  const compact = useMutation({
    mutationFn: () => call<Storage>("/storage/compact", "POST"),
    onSuccess: (now) => client.setQueryData(["storage"], now),
  });
  if (!size.data) return <ProblemNote error={size.error} />;
  const { all_bytes, record_bytes, records, free_bytes } = size.data;
  return (
    <Text color="fg.muted" fontSize="13px" data-testid="storage">
      All projects take {bytesText(all_bytes)}, of it {bytesText(record_bytes)} for{" "}
      {records.toLocaleString("en-US")} records of the log, each kept once; {bytesText(free_bytes)} are free.{" "}
      <Button size="2xs" variant="outline" loading={compact.isPending} onClick={() => compact.mutate()}>
        Compact
      </Button>{" "}
      gives free room back and forgets nothing.
      <ProblemNote error={compact.error} />
    </Text>
  );
}
