import { Link } from "react-router";
import { unwrap, type Writer } from "../service/api";
import { blank, requestOf, type Said } from "./request";

/** Drafts one of several changes that are alike, of one tunnel or gateway, and says where it is. */
export async function draftOne(api: Writer, code: string, said: Partial<Said>) {
  const about = { code, behind: { A: [], B: [] }, zones: { A: "Etc/UTC", B: "Etc/UTC" } };
  const made = await unwrap(api.POST("/api/v1/changes", { body: requestOf({ ...blank, ...said }, about) }));
  return (
    <>
      drafted as <Link to={`/changes/${made.code}`}>{made.code}</Link>
    </>
  );
}
