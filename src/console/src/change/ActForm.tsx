import { useState } from "react";
import { Ask } from "../parts/controls/Ask";
import { Line } from "../parts/controls/Line";
import { Problem } from "../parts/Page";
import { words, type Act } from "./acts";

const optional: Act[] = ["drop", "review-after", "confirm-urgent"];

/** What an act asks for before it is done: why, and for urgent work who has to confirm it. */
export function ActForm(props: {
  act: Act;
  /** What it asks for, in a few words. */
  asked: string;
  code: string;
  error?: unknown;
  tell: (said: { remark: string; reviewer: string }) => void;
  leave: () => void;
}) {
  const { act, asked, code, error, tell, leave } = props;
  const [remark, setRemark] = useState("");
  const [reviewer, setReviewer] = useState("");
  return (
    <Ask title={`${words[act]}: ${code}`} holds={remark !== "" || reviewer !== ""} onLeave={leave}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          tell({ remark, reviewer });
        }}
      >
        {act === "urgent" && (
          <Line
            label="Reviewer who confirms it"
            help="The sign-in name of a person who can approve this change."
            value={reviewer}
            set={setReviewer}
            autoFocus
            required
          />
        )}
        <Line
          label={asked}
          value={remark}
          set={setRemark}
          autoFocus={act !== "urgent"}
          required={!optional.includes(act)}
        />
        {error !== undefined && error !== null && <Problem error={error} />}
        <div className="acts">
          <button type="button" onClick={leave}>
            Cancel
          </button>
          <button className="first" disabled={!optional.includes(act) && remark.trim() === ""}>
            {words[act]}
          </button>
        </div>
      </form>
    </Ask>
  );
}
