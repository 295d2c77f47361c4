import { Link } from "@tanstack/react-router";
import { Empty } from "./Notice";

export function Lost() {
  return (
    <div className="mx-auto max-w-xl p-8">
      <Empty>
        There is no such page.{" "}
        <Link to="/" className="underline">
          Go to Today
        </Link>
      </Empty>
    </div>
  );
}
