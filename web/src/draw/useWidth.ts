import { useLayoutEffect, useRef, useState } from "react";

/** How wide a box is, and the reference that it takes. It is measured before anything is painted, so nothing jumps. */
export function useWidth(): [number, React.RefObject<HTMLDivElement | null>] {
  const box = useRef<HTMLDivElement>(null);
  const [available, setAvailable] = useState(700);
  useLayoutEffect(() => {
    if (!box.current) return;
    setAvailable(Math.floor(box.current.getBoundingClientRect().width));
    const observer = new ResizeObserver(([entry]) => entry && setAvailable(Math.floor(entry.contentRect.width)));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return [available, box];
}
