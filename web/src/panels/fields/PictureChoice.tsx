import { useRef } from "react";

interface Props {
  readonly children: string;
  /** how the hidden field is called */
  readonly label: string;
  readonly onPicture: (file: File) => void;
}

/** Words that choose a picture file. */
export function PictureChoice({ children, label, onPicture }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className="link" onClick={() => input.current?.click()}>
        {children}
      </button>
      <input
        ref={input}
        type="file"
        hidden
        aria-label={label}
        accept="image/png,image/jpeg,image/webp"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) onPicture(file);
          e.target.value = "";
        }}
      />
    </>
  );
}
