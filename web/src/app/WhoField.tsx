import { Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import { keepWho, who } from "../shared/session";

/** The name that this browser writes with each change. */
export function WhoField() {
  const [name, setName] = useState(who());
  return (
    <Flex align="baseline" gap={2} mb={2} asChild>
      <label>
        Your name, written with each change
        <Input
          size="xs"
          width="22ch"
          maxLength={60}
          borderColor="border.emphasized"
          autoComplete="name"
          value={name}
          onChange={(event) => {
            setName(event.target.value);
            keepWho(event.target.value);
          }}
        />
      </label>
    </Flex>
  );
}
