import { Button, Flex } from "@chakra-ui/react";
import { useSearchParams } from "react-router";

/** Opens the question beside the list of links. */
export function NewLink() {
  const [params, setParams] = useSearchParams();
  const open = params.has("new") || params.has("like");
  return (
    <Flex px={2} py="6px" borderBottomWidth="1px">
      <Button
        size="xs"
        variant={open ? "solid" : "outline"}
        width="100%"
        aria-pressed={open}
        onClick={() =>
          setParams(
            (before) => new URLSearchParams([...before].filter(([key]) => key !== "like").concat([["new", "1"]])),
            { replace: true },
          )
        }
      >
        New link
      </Button>
    </Flex>
  );
}
