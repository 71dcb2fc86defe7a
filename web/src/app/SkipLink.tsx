import { Button } from "@chakra-ui/react";

/** For those who walk by keys: past the bar and the list, to the first piece of the chain, else to the page. */
export function SkipLink() {
  const skip = () => {
    const target = document.querySelector<HTMLElement>("[data-piece]") ?? document.querySelector("main");
    if (target && !target.matches("button")) target.tabIndex = -1;
    target?.focus();
  };
  return (
    <Button
      size="xs"
      position="absolute"
      left={2}
      top="-60px"
      zIndex={10}
      _focusVisible={{ top: "6px" }}
      onClick={skip}
      className="no-print"
    >
      Skip to the chain
    </Button>
  );
}
