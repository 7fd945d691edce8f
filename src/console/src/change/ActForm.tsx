import { useState } from "react";
import { asks, words, type Act } from "./acts";

/** What an act asks for before it is done: why, and for urgent work who has to confirm it. */
export function ActForm(props: {
  act: Act;
  tell: (said: { remark: string; reviewer: string }) => void;
  leave: () => void;
}) {
  const { act, tell, leave } = props;
  const [remark, setRemark] = useState("");
  const [reviewer, setReviewer] = useState("");
  return (
    <form
      className="notice"
      onSubmit={(e) => {
        e.preventDefault();
        tell({ remark, reviewer });
      }}
    >
      {act === "urgent" && (
        <label>
          Reviewer who confirms it: sign-in name of a person who can approve this change
          <input autoFocus required value={reviewer} onChange={(e) => setReviewer(e.target.value)} />
        </label>
      )}
      <label>
        {asks[act]}
        <input
          autoFocus={act !== "urgent"}
          required={!["drop", "review-after", "confirm-urgent"].includes(act)}
          value={remark}
          onChange={(e) => setRemark(e.target.value)}
        />
      </label>
      <div className="choices">
        <button className="first">{words[act]}</button>
        <button type="button" onClick={leave}>
          Cancel
        </button>
      </div>
    </form>
  );
}
