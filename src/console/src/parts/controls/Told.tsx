import {
  Button,
  Text,
  UNSTABLE_Toast as Toast,
  UNSTABLE_ToastContent as ToastContent,
  UNSTABLE_ToastQueue as ToastQueue,
  UNSTABLE_ToastRegion as ToastRegion,
} from "react-aria-components";
import { Link } from "react-router";
import { showTold, type Done } from "../notices";

const milliseconds = 8000;

const queue = new ToastQueue<Done>({ maxVisibleToasts: 3 });
showTold((done) => queue.add(done, { timeout: milliseconds }));

/** What was done and what others do, at the edge of the page; it goes automatically and does not push anything. */
export function Told() {
  return (
    <ToastRegion queue={queue} className="toasts" aria-label="What happened">
      {({ toast }) => (
        <Toast toast={toast} className="toast">
          <ToastContent>
            <Text slot="title">
              {toast.content.text}{" "}
              {toast.content.to && <Link to={toast.content.to}>{toast.content.link ?? "Show"}</Link>}
            </Text>
          </ToastContent>
          <Button slot="close" aria-label="Close">
            ×
          </Button>
        </Toast>
      )}
    </ToastRegion>
  );
}
