import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  Outlet,
  redirect,
} from "@tanstack/react-router";
import { ahead } from "./api/queries";
import { rooms } from "./api/rooms";
import { Desk } from "./Desk";
import { SignIn } from "./account/SignIn";
import { Today } from "./today/Today";
import { Broken, Lost } from "./ui/Lost";

const root = createRootRoute({ component: Outlet, notFoundComponent: Lost });
const signIn = createRoute({ getParentRoute: () => root, path: "/sign-in", component: SignIn });
const desk = createRoute({
  getParentRoute: () => root,
  id: "desk",
  component: Desk,
  loader: () => void ahead(rooms.me()),
});
const today = createRoute({
  getParentRoute: () => desk,
  path: "/",
  component: Today,
  loader: () => void ahead(rooms.today()),
});
const roster = createRoute({
  getParentRoute: () => desk,
  path: "/runners",
  loader: () => void ahead(rooms.roster("", false)),
  component: lazyRouteComponent(() => import("./runner/Roster"), "Roster"),
});
const account = createRoute({
  getParentRoute: () => desk,
  path: "/practice",
  loader: () => {
    void ahead(rooms.coaches());
    void ahead(rooms.sessions());
    void ahead(rooms.roster("", false));
    void ahead(rooms.audit("", 0)); // refused to who is no owner, and not shown
  },
  component: lazyRouteComponent(() => import("./account/Practice"), "Practice"),
});
const house = createRoute({
  getParentRoute: () => desk,
  path: "/house",
  loader: () => {
    void ahead(rooms.reference());
    void ahead(rooms.typicalErrors());
  },
  component: lazyRouteComponent(() => import("./house/House"), "House"),
});
const library = createRoute({
  getParentRoute: () => desk,
  path: "/library",
  loader: () => {
    void ahead(rooms.reference());
    void ahead(rooms.library());
  },
  component: lazyRouteComponent(() => import("./library/Library"), "Library"),
});
const runner = createRoute({
  getParentRoute: () => desk,
  path: "/runners/$runner",
  loader: ({ params }) => {
    void ahead(rooms.reference());
    void ahead(rooms.runner(params.runner));
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
      step(
        "/screen",
        () => import("./screen/Screen"),
        "Screen",
        (id) => void ahead(rooms.screen(id)),
      ),
      step(
        "/gait",
        () => import("./gait/Gait"),
        "GaitRoom",
        (id) => {
          void ahead(rooms.gait(id));
          void ahead(rooms.films());
        },
      ),
      step(
        "/read",
        () => import("./read/Read"),
        "Read",
        (id) => void ahead(rooms.read(id)),
      ),
      step(
        "/build",
        () => import("./build/Build"),
        "Build",
        (id) => void ahead(rooms.draft(id, null)),
      ),
      step(
        "/week",
        () => import("./week/Week"),
        "Week",
        (id) => void ahead(rooms.week(id)),
      ),
      step(
        "/load",
        () => import("./load/Load"),
        "Load",
        (id) => {
          void ahead(rooms.load(id));
          void ahead(rooms.strip(id));
          void ahead(rooms.watch());
          void ahead(rooms.reference());
        },
      ),
      step(
        "/adjust",
        () => import("./adjust/Adjust"),
        "Adjust",
        (id) => void ahead(rooms.adjust(id)),
      ),
      step(
        "/barefoot",
        () => import("./barefoot/Barefoot"),
        "Barefoot",
        (id) => void ahead(rooms.barefoot(id)),
      ),
      step(
        "/retest",
        () => import("./retest/Retest"),
        "Retest",
        (id) => void ahead(rooms.retest(id)),
      ),
      step(
        "/hand-out",
        () => import("./handout/HandOut"),
        "HandOut",
        (id) => void ahead(rooms.handOut(id, 7)),
      ),
      step(
        "/referral",
        () => import("./report/Referral"),
        "Referral",
        (id) => void ahead(rooms.referral(id)),
      ),
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
