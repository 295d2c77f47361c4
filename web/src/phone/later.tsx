import { Component, lazy, Suspense, type ComponentProps, type ReactNode } from "react";

const parts = {
  Days: () => import("./Days"),
  Entry: () => import("./Entry"),
  RunEntry: () => import("./RunEntry"),
  Signs: () => import("./Signs"),
  Elsewhere: () => import("./Elsewhere"),
  FillIn: () => import("./FillIn"),
};

/** Fetches what the page does not need to be drawn; the worker keeps it with the rest. */
export const loadAll = () => Promise.all(Object.values(parts).map((load) => load()));

const LazyDays = lazy(() => parts.Days().then((m) => ({ default: m.Days })));
const LazyEntry = lazy(() => parts.Entry().then((m) => ({ default: m.Entry })));
const LazyRunEntry = lazy(() => parts.RunEntry().then((m) => ({ default: m.RunEntry })));
const LazySigns = lazy(() => parts.Signs().then((m) => ({ default: m.Signs })));
const LazyElsewhere = lazy(() => parts.Elsewhere().then((m) => ({ default: m.Elsewhere })));
const LazyFillIn = lazy(() => parts.FillIn().then((m) => ({ default: m.FillIn })));

export const Days = (p: ComponentProps<typeof LazyDays>) => (
  <Later>
    <LazyDays {...p} />
  </Later>
);
export const Entry = (p: ComponentProps<typeof LazyEntry>) => (
  <Later>
    <LazyEntry {...p} />
  </Later>
);
export const RunEntry = (p: ComponentProps<typeof LazyRunEntry>) => (
  <Later>
    <LazyRunEntry {...p} />
  </Later>
);
export const Signs = (p: ComponentProps<typeof LazySigns>) => (
  <Later>
    <LazySigns {...p} />
  </Later>
);
export const Elsewhere = (p: ComponentProps<typeof LazyElsewhere>) => (
  <Later>
    <LazyElsewhere {...p} />
  </Later>
);
export const FillIn = () => (
  <Later>
    <LazyFillIn />
  </Later>
);

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
