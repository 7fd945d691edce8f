import type { ReactNode } from "react";
import { Dialog, Heading, Modal, ModalOverlay } from "react-aria-components";

/** A dialog over the page. Escape and a press beside it leave it, unless something would be lost. */
export function Ask(props: {
  title: ReactNode;
  label?: string;
  onLeave: () => void;
  /** Whether leaving it would lose what is typed: then only its own buttons leave it. */
  holds?: boolean;
  wide?: boolean;
  children: ReactNode;
}) {
  const { title, label, onLeave, holds, wide, children } = props;
  return (
    <ModalOverlay
      className="over"
      isOpen
      isDismissable={!holds}
      isKeyboardDismissDisabled={holds}
      onOpenChange={(open) => !open && onLeave()}
    >
      <Modal className={wide ? "ask wide" : "ask"}>
        <Dialog aria-label={label}>
          <Heading slot="title" level={2}>
            {title}
          </Heading>
          {children}
        </Dialog>
      </Modal>
    </ModalOverlay>
  );
}
