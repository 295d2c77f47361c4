import type { ReactNode } from "react";
import { Dialog } from "radix-ui";

/** What takes the whole screen while it is done: a small heading with its buttons, and the rest. A touch beside it or the escape
 * key does not end it. */
export function FullScreen({
  title,
  buttons,
  onClose,
  children,
}: {
  title: string;
  buttons: ReactNode;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open modal={false} onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(e) => e.preventDefault()}
          onEscapeKeyDown={(e) => e.preventDefault()}
          className="fixed inset-0 overflow-y-auto bg-ground text-[1.05rem]"
        >
          <div className="mx-auto flex min-h-full max-w-md flex-col px-4 py-2">
            <div className="flex items-center justify-between gap-2">
              <Dialog.Title className="text-base font-medium text-quiet">{title}</Dialog.Title>
              <span className="flex gap-1 whitespace-nowrap">{buttons}</span>
            </div>
            {children}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
