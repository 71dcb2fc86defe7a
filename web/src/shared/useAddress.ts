import { useSearchParams } from "react-router";

/** What the address says, and a way to change one word of it; an empty one leaves it. */
export function useAddress(): [URLSearchParams, (key: string, value: string | null) => void] {
  const [params, setParams] = useSearchParams();
  const put = (key: string, value: string | null) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(key, value);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  return [params, put];
}
