import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  Outlet,
  redirect,
} from "@tanstack/react-router";
import { Desk } from "./Desk";
import { SignIn } from "./account/SignIn";
import { Today } from "./today/Today";
import { Broken, Lost } from "./ui/Lost";

const root = createRootRoute({ component: Outlet, notFoundComponent: Lost });
const signIn = createRoute({ getParentRoute: () => root, path: "/sign-in", component: SignIn });
const desk = createRoute({ getParentRoute: () => root, id: "desk", component: Desk });
const today = createRoute({ getParentRoute: () => desk, path: "/", component: Today });
const roster = createRoute({
  getParentRoute: () => desk,
  path: "/runners",
  component: lazyRouteComponent(() => import("./runner/Roster"), "Roster"),
});
const account = createRoute({
  getParentRoute: () => desk,
  path: "/practice",
  component: lazyRouteComponent(() => import("./account/Practice"), "Practice"),
});
const house = createRoute({
  getParentRoute: () => desk,
  path: "/house",
  component: lazyRouteComponent(() => import("./house/House"), "House"),
});
const library = createRoute({
  getParentRoute: () => desk,
  path: "/library",
  component: lazyRouteComponent(() => import("./library/Library"), "Library"),
});
const runner = createRoute({
  getParentRoute: () => desk,
  path: "/runners/$runner",
  component: lazyRouteComponent(() => import("./runner/Runner"), "Runner"),
});
const runnerIndex = createRoute({
  getParentRoute: () => runner,
  path: "/",
  beforeLoad: ({ params }) => {
    throw redirect({ to: "/runners/$runner/intake", params });
  },
});
const step = <P extends string>(path: P, load: () => Promise<Record<string, unknown>>, name: string) =>
  createRoute({
    getParentRoute: () => runner,
    path,
    component: lazyRouteComponent(load as () => Promise<Record<string, React.ComponentType>>, name),
  });

const tree = root.addChildren([
  signIn,
  desk.addChildren([
    today,
    roster,
    account,
    house,
    library,
    runner.addChildren([
      runnerIndex,
      step("/intake", () => import("./runner/Intake"), "IntakePage"),
      step("/screen", () => import("./screen/Screen"), "Screen"),
      step("/gait", () => import("./gait/Gait"), "GaitRoom"),
      step("/read", () => import("./read/Read"), "Read"),
      step("/build", () => import("./build/Build"), "Build"),
      step("/week", () => import("./week/Week"), "Week"),
      step("/adjust", () => import("./adjust/Adjust"), "Adjust"),
      step("/retest", () => import("./retest/Retest"), "Retest"),
      step("/hand-out", () => import("./handout/HandOut"), "HandOut"),
      step("/referral", () => import("./report/Referral"), "Referral"),
    ]),
  ]),
]);

export const router = createRouter({ routeTree: tree, scrollRestoration: true, defaultErrorComponent: Broken });

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
