import { BoardsSection } from "./BoardsSection";
import { FitSection } from "./FitSection";
import { GuidesSection } from "./GuidesSection";
import { SizesSection } from "./SizesSection";

/** What a build must match: pictures, sizes, landmarks, and how near it is. */
export function BriefPanel({ onPicture }: { readonly onPicture: (file: File) => void }) {
  return (
    <section aria-label="Brief">
      <BoardsSection onPicture={onPicture} />
      <SizesSection />
      <FitSection />
      <GuidesSection />
    </section>
  );
}
