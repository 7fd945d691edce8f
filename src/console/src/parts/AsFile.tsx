/** The list that is shown, as a file: the same filter, all columns. */
export function AsFile({ path, query }: { path: string; query: Record<string, string | undefined> }) {
  const href = (as: string) =>
    `${path}?${new URLSearchParams([...Object.entries(query).flatMap(([k, v]) => (v ? [[k, v]] : [])), ["as", as]])}`;
  return (
    <span className="src files">
      as{" "}
      <a href={href("csv")} download>
        CSV
      </a>{" "}
      <a href={href("xlsx")} download>
        XLSX
      </a>
    </span>
  );
}
