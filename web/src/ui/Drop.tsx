import { useState, type ReactNode } from "react";

/** A place that files are dropped on. */
export function Drop({
  onFiles,
  className = "",
  children,
}: {
  onFiles: (files: File[]) => void;
  className?: string;
  children: ReactNode;
}) {
  const [over, setOver] = useState(false);
  return (
    <div
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        onFiles([...e.dataTransfer.files]);
      }}
      className={`border-2 border-dashed px-5 ${over ? "border-cinder bg-panel" : "border-line"} ${className}`}
    >
      {children}
    </div>
  );
}
