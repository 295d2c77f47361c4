import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  Outlet,
  redirect,
} from "@tanstack/react-router";
import { ahead } from "./api/queries";
import { Desk } from "./Desk";
import { SignIn } from "./account/SignIn";
import { Today } from "./today/Today";
import { Broken, Lost } from "./ui/Lost";

const root = createRootRoute({ component: Outlet, notFoundComponent: Lost });
const signIn = createRoute({ getParentRoute: () => root, path: "/sign-in", component: SignIn });
const desk = createRoute({ getParentRoute: () => root, id: "desk", component: Desk, loader: ahead.desk });
const today = createRoute({ getParentRoute: () => desk, path: "/", component: Today, loader: ahead.today });
const roster = createRoute({
  getParentRoute: () => desk,
  path: "/runners",
  loader: ahead.roster,
  component: lazyRouteComponent(() => import("./runner/Roster"), "Roster"),
});
const account = createRoute({
  getParentRoute: () => desk,
  path: "/practice",
  loader: ahead.coaches,
  component: lazyRouteComponent(() => import("./account/Practice"), "Practice"),
});
const house = createRoute({
  getParentRoute: () => desk,
  path: "/house",
  loader: () => {
    ahead.reference();
    ahead.typicalErrors();
  },
  component: lazyRouteComponent(() => import("./house/House"), "House"),
});
const library = createRoute({
  getParentRoute: () => desk,
  path: "/library",
  loader: () => {
    ahead.reference();
    ahead.library();
  },
  component: lazyRouteComponent(() => import("./library/Library"), "Library"),
});
const runner = createRoute({
  getParentRoute: () => desk,
  path: "/runners/$runner",
  loader: ({ params }) => {
    ahead.reference();
    ahead.runner(params.runner);
  },
  component: lazyRouteComponent(() => import("./runner/Runner"), "Runner"),
});
const runnerIndex = createRoute({
  getParentRoute: () => runner,
  path: "/",
  beforeLoad: ({ params }) => {
    throw redirect({ to: "/runners/$runner/intake", params });
  },
});
const step = <P extends string>(
  path: P,
  load: () => Promise<Record<string, unknown>>,
  name: string,
  asks?: (runner: string) => void,
) =>
  createRoute({
    getParentRoute: () => runner,
    path,
    loader: ({ location }) => asks?.(location.pathname.split("/")[2] ?? ""),
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
      step("/screen", () => import("./screen/Screen"), "Screen", ahead.screen),
      step("/gait", () => import("./gait/Gait"), "GaitRoom", ahead.gait),
      step("/read", () => import("./read/Read"), "Read", ahead.read),
      step("/build", () => import("./build/Build"), "Build", ahead.build),
      step("/week", () => import("./week/Week"), "Week", ahead.week),
      step("/adjust", () => import("./adjust/Adjust"), "Adjust", ahead.adjust),
      step("/retest", () => import("./retest/Retest"), "Retest", ahead.retest),
      step("/hand-out", () => import("./handout/HandOut"), "HandOut", ahead.handOut),
      step("/referral", () => import("./report/Referral"), "Referral", ahead.referral),
    ]),
  ]),
]);

export const router = createRouter({
  routeTree: tree,
  scrollRestoration: true,
  defaultErrorComponent: Broken,
  defaultStaleTime: Infinity, // loaders ask ahead, once; the pages see to what is out of date
});

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router;
  }
}
