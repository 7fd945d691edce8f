import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { ask } from "../service/queries";
import { Problem, Waiting } from "./Page";

/** A drawing that the service made: shown with its links, and given as a file without them. */
export function Drawing({ path, name, what }: { path: string; name: string; what: string }) {
  const go = useNavigate();
  const drawing = useQuery(ask.drawing(path));
  if (drawing.isPending) return <Waiting what={`the drawing of ${what}`} />;
  if (drawing.error) return <Problem error={drawing.error} again={() => drawing.refetch()} />;
  return (
    <figure className="drawing">
      {/* Made by our own service, every text in it escaped there. Its links take keys as they are. */}
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions */}
      <div
        dangerouslySetInnerHTML={{ __html: drawing.data }}
        onClick={(e) => {
          const to = (e.target as Element).closest("a")?.getAttribute("href");
          if (to && !e.ctrlKey && !e.metaKey) {
            e.preventDefault();
            void go(to);
          }
        }}
      />
      <figcaption className="src">
        <a href={path} download={name}>
          as SVG
        </a>
      </figcaption>
    </figure>
  );
}
