import { type ReactNode, useRef } from "react";

interface Props {
  /** File endings, such as `.json`. */
  accept: string;
  onFile: (file: File) => void;
  /** Draws what opens the dialog. */
  children: (open: () => void) => ReactNode;
  /** Names the field for tests. */
  mark?: string;
}

/** Asks for a file with whatever its child draws. */
export function FileField({ accept, onFile, children, mark }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      {children(() => input.current?.click())}
      <input
        ref={input}
        type="file"
        accept={accept}
        className="hidden"
        {...(mark ? { [`data-${mark}`]: "" } : {})}
        onChange={(e) => {
          const file = e.target.files?.[0];
          // the same file may be chosen again
          e.target.value = "";
          if (file) onFile(file);
        }}
      />
    </>
  );
}
