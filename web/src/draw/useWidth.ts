import { useEffect, useRef, useState } from "react";

/** How wide a box is, and the reference that it takes. */
export function useWidth(): [number, React.RefObject<HTMLDivElement | null>] {
  const box = useRef<HTMLDivElement>(null);
  const [available, setAvailable] = useState(700);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setAvailable(Math.floor(entry.contentRect.width)));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return [available, box];
}
