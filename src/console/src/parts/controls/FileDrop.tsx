import type { ReactNode } from "react";
import { Button, DropZone, FileTrigger, isFileDropItem } from "react-aria-components";

/** A file that is dropped or chosen. What is there already stands in its place. */
export function FileDrop(props: {
  label: string;
  /** What the button that chooses a file says. */
  choose: string;
  about: ReactNode;
  accept?: readonly string[];
  take: (file: File) => void;
  /** What was taken, with what can be done with it. */
  taken?: ReactNode;
  wide?: boolean;
}) {
  const { label, choose, about, accept, take, taken, wide } = props;
  return (
    <DropZone
      className={`filedrop${wide ? " wide" : ""}`}
      aria-label={label}
      onDrop={async (e) => {
        const item = e.items.find(isFileDropItem);
        if (item) take(await item.getFile());
      }}
    >
      {taken && <span className="taken">{taken} </span>}
      <FileTrigger acceptedFileTypes={accept && [...accept]} onSelect={(files) => files?.[0] && take(files[0])}>
        <Button className="link">{choose}</Button>
      </FileTrigger>{" "}
      <span className="src">{about}</span>
    </DropZone>
  );
}
