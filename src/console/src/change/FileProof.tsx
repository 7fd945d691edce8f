import { useState } from "react";
import { FileDrop } from "../parts/controls/FileDrop";

const mostOctets = 4 * 1024 * 1024;

/** The octets of a file as the service takes them. */
const base64 = (file: File) =>
  new Promise<string>((done, failed) => {
    const reader = new FileReader();
    reader.onload = () => done((reader.result as string).split(",", 2)[1] ?? "");
    reader.onerror = () => failed(new Error(`${file.name} cannot be read`));
    reader.readAsDataURL(file);
  });

/** A file that proves a step: dropped, chosen or pasted. */
export function FileProof(props: {
  file: { name: string; content: string } | null;
  set: (file: { name: string; content: string } | null) => void;
}) {
  const { file, set } = props;
  const [wrong, setWrong] = useState("");
  const take = async (given: File) => {
    if (given.size > mostOctets) {
      setWrong(`${given.name} has ${(given.size / 1024 / 1024).toFixed(1)} MiB. Expected: at most 4 MiB.`);
      return;
    }
    setWrong("");
    set({ name: given.name, content: await base64(given) });
  };
  return (
    <>
      <FileDrop
        label="Drop a file that proves the step"
        choose={file ? "another file" : "or a file"}
        about="at most 4 MiB: a screen shot, a saved configuration; or drop it here"
        take={(given) => void take(given)}
        taken={
          file && (
            <>
              <code>{file.name}</code>{" "}
              <button type="button" className="link" onClick={() => set(null)}>
                Remove the file
              </button>
            </>
          )
        }
      />
      {wrong && (
        <span className="wrong" role="alert">
          {wrong}
        </span>
      )}
    </>
  );
}
