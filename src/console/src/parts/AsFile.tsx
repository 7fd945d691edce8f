type Query = Record<string, string | undefined>;

/** The list that is shown, as a file: the same filter, all columns. */
export function AsFile({ path, query }: { path: string; query: Query }) {
  return <Files path={path} query={query} keys={[]} word="as" />;
}

/** The rows that are selected, as a file. */
export function SelectedAsFile({ path, query, keys }: { path: string; query: Query; keys: readonly string[] }) {
  return <Files path={path} query={query} keys={keys} word="these as" />;
}

function Files(props: { path: string; query: Query; keys: readonly string[]; word: string }) {
  const { path, query, keys, word } = props;
  const href = (as: string) =>
    `${path}?${new URLSearchParams([
      ...Object.entries(query).flatMap(([k, v]) => (v ? [[k, v]] : [])),
      ...keys.map((key) => ["only", key]),
      ["as", as],
    ])}`;
  return (
    <span className="src files">
      {word}{" "}
      <a href={href("csv")} download>
        CSV
      </a>{" "}
      <a href={href("xlsx")} download>
        XLSX
      </a>
    </span>
  );
}
