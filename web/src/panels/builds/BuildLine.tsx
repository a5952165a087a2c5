import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { answer, api, type BuildSummary } from "../../api/client";
import { METRES } from "../../model/store";
import { percent } from "../../model/units";
import { Icon } from "../fields/Icon";

/** Whether an element has come into sight. */
function useSeen() {
  const ref = useRef<HTMLButtonElement>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const watch = new IntersectionObserver((found) => found.some((f) => f.isIntersecting) && setSeen(true), { rootMargin: "200px" });
    if (ref.current !== null) watch.observe(ref.current);
    return () => watch.disconnect();
  }, []);
  return { ref, seen };
}

/** One build in the list: what it looks like, its size, how it fits its boards, when it was changed. */
export function BuildLine({ build: b, onOpen }: { readonly build: BuildSummary; readonly onOpen: () => void }) {
  const { ref, seen } = useSeen();
  const look = useQuery({
    queryKey: ["look", b.id, b.revision],
    queryFn: () => answer(api.GET("/api/builds/{build_id}/look", { params: { path: { build_id: b.id } } })),
    enabled: seen,
    staleTime: Infinity,
    retry: false,
  });
  const size = (look.data?.size ?? []).map((v) => Number((v / METRES[b.unit]).toPrecision(3)));
  const there = size.some((v) => v > 0);
  return (
    <button type="button" className="open" ref={ref} onClick={onOpen}>
      <span className="thumb">{there ? <img src={look.data?.picture} alt="" /> : b.picture ? <img src={`/api/pictures/${b.picture}`} alt="" /> : <Icon name="form" size={26} />}</span>
      <strong>{b.name}</strong>
      <span>
        {b.parts === 1 ? "1 part" : `${b.parts} parts`}
        {b.boards > 0 && ` · ${b.boards === 1 ? "1 board" : `${b.boards} boards`}`}
        <br />
        {there ? `${size.join(" × ")} ${b.unit}` : b.unit}
      </span>
      <span>{look.data?.fit == null ? "" : `Fit ${percent(look.data.fit)}`}</span>
      <time dateTime={b.saved_at}>{new Date(b.saved_at).toLocaleString([], { dateStyle: "medium", timeStyle: "short", hour12: false })}</time>
    </button>
  );
}
