import { ReplacePassword } from "./ReplacePassword";

/** What a password that somebody else set opens: its own replacement. */
export function OwnPassword({ onDone }: { onDone: () => void }) {
  return (
    <main className="signin">
      <h1>Choose your own password</h1>
      <p className="soft">Somebody else set the password that you signed in with. Replace it to continue.</p>
      <ReplacePassword onDone={onDone} />
    </main>
  );
}
