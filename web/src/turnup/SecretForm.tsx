import { Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import type { Project, SecretWish } from "../shared/api";
import { Choice } from "../shared/Choice";
import { ProblemNote } from "../shared/ProblemNote";
import { useSecret } from "./queries";

const START = {
  version: "v2c",
  community: "",
  user: "",
  auth: "SHA-256",
  auth_secret: "",
  privacy: "AES-128",
  privacy_secret: "",
};

/** How a box is asked: typed once, kept in a file of its own, never shown again. */
export function SecretForm({
  project,
  row,
  onDone,
}: {
  project: Project | undefined;
  row: string;
  onDone: () => void;
}) {
  const [draft, setDraft] = useState(START);
  const put = useSecret(project, row);
  const set = (key: keyof typeof START, value: string) => setDraft({ ...draft, [key]: value });
  const secret = (key: "community" | "auth_secret" | "privacy_secret", label: string) => (
    <label>
      {label}{" "}
      <Input
        size="xs"
        width="130px"
        type="password"
        autoComplete="off"
        borderColor="border.emphasized"
        value={draft[key]}
        onChange={(event) => set(key, event.target.value)}
      />
    </label>
  );
  return (
    <Flex
      as="form"
      gap={2}
      wrap="wrap"
      align="center"
      mt={1}
      aria-label="How it is asked"
      onSubmit={(event) => {
        event.preventDefault();
        put.mutate(draft as SecretWish, { onSuccess: onDone });
      }}
    >
      <Choice
        label="Version"
        value={draft.version}
        options={[
          ["v2c", "SNMP v2c"],
          ["v3", "SNMP v3"],
        ]}
        onChange={(value) => set("version", value)}
      />
      {draft.version === "v2c" ? (
        secret("community", "community")
      ) : (
        <>
          <label>
            user{" "}
            <Input
              size="xs"
              width="100px"
              autoComplete="off"
              borderColor="border.emphasized"
              value={draft.user}
              onChange={(event) => set("user", event.target.value)}
            />
          </label>
          <Choice
            label="Authentication"
            value={draft.auth}
            options={["SHA-256", "SHA-1", "MD5", "none"].map((one) => [one, one] as const)}
            onChange={(value) => set("auth", value)}
          />
          {draft.auth !== "none" && secret("auth_secret", "secret")}
          <Choice
            label="Privacy"
            value={draft.privacy}
            options={["AES-128", "DES", "none"].map((one) => [one, one] as const)}
            onChange={(value) => set("privacy", value)}
          />
          {draft.privacy !== "none" && secret("privacy_secret", "privacy secret")}
        </>
      )}
      <Button size="xs" type="submit" loading={put.isPending}>
        Keep it
      </Button>
      <Button size="xs" variant="outline" onClick={() => put.mutate({ forget: true }, { onSuccess: onDone })}>
        Forget it
      </Button>
      <ProblemNote error={put.error} />
    </Flex>
  );
}
