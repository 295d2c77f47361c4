import { AlertDialog } from "radix-ui";
import { useRef, type ReactNode } from "react";

/** What has to be answered before anything else: it takes the keyboard, and gives it back where it was. Escape is the
 * way out that records nothing. */
export function Alert({ title, onClose, children }: { title: ReactNode; onClose: () => void; children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  return (
    <AlertDialog.Root open onOpenChange={(open) => !open && onClose()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-20 bg-ink/40" />
        <AlertDialog.Content
          ref={box}
          aria-describedby={undefined}
          tabIndex={-1}
          // Neither answer is the one that Enter gives by chance.
          onOpenAutoFocus={(e) => {
            e.preventDefault();
            box.current?.focus();
          }}
          className="fixed top-1/2 left-1/2 z-30 max-h-[90vh] w-[min(44rem,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border-2 border-brick bg-brick-ground p-5"
        >
          <AlertDialog.Title className="text-lg font-semibold text-brick">{title}</AlertDialog.Title>
          {children}
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
