import { Component, lazy, Suspense, type ComponentType, type ReactNode } from "react";

/** Draws something else where a part cannot be drawn: nobody with pain is left before a blank page. */
export class Boundary extends Component<{ instead: ReactNode; children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };
  static getDerivedStateFromError() {
    return { failed: true };
  }
  override render() {
    return this.state.failed ? this.props.instead : this.props.children;
  }
}

function Later({ children }: { children: ReactNode }) {
  const instead = (
    <p role="alert" className="my-3 border-2 border-brick bg-brick-ground p-3 text-lg">
      <strong className="text-brick">⬣ This part of the page is not on this phone yet, and there is no signal. </strong>
      Chest pain, collapse or breathlessness: call for help. Anything else that worries you: stop training and call your
      coach. Open this page again with signal to report it.
    </p>
  );
  return (
    <Boundary instead={instead}>
      <Suspense>{children}</Suspense>
    </Boundary>
  );
}

const loads: (() => Promise<unknown>)[] = [];

/** A part of the page that is fetched after the first drawing. */
function part<P extends object>(load: () => Promise<ComponentType<P>>) {
  loads.push(load);
  const Part = lazy(async () => ({ default: await load() }));
  return (p: P) => (
    <Later>
      <Part {...p} />
    </Later>
  );
}

export const Days = part(() => import("./Days").then((m) => m.Days));
export const Entry = part(() => import("./Entry").then((m) => m.Entry));
export const Begin = part(() => import("./player/Begin").then((m) => m.Begin));
export const Player = part(() => import("./player/Player").then((m) => m.Player));
export const Notes = part(() => import("./Notes").then((m) => m.Notes));
export const SelfCheck = part(() => import("./check/SelfCheck").then((m) => m.SelfCheck));
export const Why = part(() => import("./Why").then((m) => m.Why));
export const RunEntry = part(() => import("./RunEntry").then((m) => m.RunEntry));
export const Angle = part(() => import("./Angle").then((m) => m.Angle));
export const Bare = part(() => import("./Bare").then((m) => m.Bare));
export const Files = part(() => import("./Files").then((m) => m.Files));
export const ShortCode = part(() => import("./ShortCode").then((m) => m.ShortCode));
export const Signs = part(() => import("./Signs").then((m) => m.Signs));
export const Elsewhere = part(() => import("./Elsewhere").then((m) => m.Elsewhere));
export const FillIn = part(() => import("./FillIn").then((m) => m.FillIn));

loads.push(() => import("./opening"));

/** Fetches what the page does not need to be drawn; the worker keeps it with the rest. */
export const loadAll = () => Promise.all(loads.map((load) => load()));
