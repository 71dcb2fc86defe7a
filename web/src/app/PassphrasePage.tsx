import { Box, Button, Heading, Input, Text, chakra } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";

import { ProblemError, call } from "../shared/api";
import { ProblemNote } from "../shared/ProblemNote";
import { useCountdown } from "../shared/countdown";
import { keepWho, setAsked, who } from "../shared/session";
import { reread } from "../shared/reread";

/** Lies over the page until the passphrase is said; what was typed under it stays. */
export function PassphrasePage() {
  const client = useQueryClient();
  const [passphrase, setPassphrase] = useState("");
  const [name, setName] = useState(who());
  const [error, setError] = useState<unknown>(null);
  const [waitS, startWait] = useCountdown();

  async function enter(event: FormEvent) {
    event.preventDefault();
    try {
      await call("/session", "POST", { passphrase });
    } catch (problem) {
      setError(problem);
      startWait(problem instanceof ProblemError ? (problem.problem.retry_s ?? 0) : 0);
      return;
    }
    keepWho(name);
    setAsked(false);
    await reread(client);
  }

  return (
    <Box
      role="dialog"
      aria-modal="true"
      aria-label="Passphrase"
      position="fixed"
      inset={0}
      zIndex={20}
      bg="bg"
      p={6}
    >
      <chakra.form maxW="44ch" onSubmit={(event) => void enter(event)}>
        <Heading as="h1" size="md" fontWeight={600}>
          Passerelle
        </Heading>
        <Text mt={2}>This installation is shared. Enter the passphrase. What you typed stays on the page.</Text>
        <Box mt={4} asChild>
          <label style={{ display: "block" }}>
            Passphrase
            <Input
              type="password"
              autoFocus
              autoComplete="current-password"
              borderColor="border.emphasized"
              value={passphrase}
              onChange={(event) => setPassphrase(event.target.value)}
            />
          </label>
        </Box>
        <Box mt={4} asChild>
          <label style={{ display: "block" }}>
            Your name, written with each change
            <Input
              autoComplete="name"
              maxLength={60}
              borderColor="border.emphasized"
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
        </Box>
        <ProblemNote error={error} />
        <Button type="submit" mt={3} size="sm" disabled={waitS > 0}>
          {waitS > 0 ? `Try again in ${waitS} s` : "Continue"}
        </Button>
      </chakra.form>
    </Box>
  );
}
