import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useMe } from "../Desk";
import { api, ask } from "../api/client";
import { rooms } from "../api/rooms";
import { Heading } from "../ui/Heading";
import { Failure } from "../ui/Notice";
import { UnitChoice } from "../ui/UnitChoice";
import { readIn, type Units } from "../ui/reader";
import { Colleagues, WhoDidWhat } from "./Colleagues";
import { Password, SecondFactor, Sessions } from "./Security";

/** Colleagues, the own account, and, for owners, who did what. */
export function Practice() {
  const me = useMe().data;
  if (!me) return null; // the frame waits for it
  return (
    <div className="px-6 py-6">
      <Heading>{me.practice}</Heading>
      <Colleagues me={me} />
      <MyUnits />
      <Password />
      <SecondFactor on={me.secondFactor} />
      <Sessions />
      {me.role === "owner" && <WhoDidWhat />}
    </div>
  );
}

/** What this coach reads figures in; the record keeps them as it does. */
function MyUnits() {
  const me = useMe();
  const queries = useQueryClient();
  const key = rooms.me().queryKey;
  const choose = useMutation({
    scope: { id: "units" }, // one after another, the last choice last
    mutationFn: (units: Units) => ask(api.PUT("/api/me/units", { body: { units } })),
    onMutate: (units) => {
      queries.setQueryData(key, (was) => was && { ...was, units });
      readIn(units);
    },
    onSettled: async () => {
      if (queries.isMutating() > 1) return;
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" && !q.isActive() });
      await queries.invalidateQueries(); // every answer is written in the units of who asks
    },
  });
  return (
    <section aria-label="Units" className="max-w-2xl">
      <Heading level={2}>What you read figures in</Heading>
      <UnitChoice units={me.data?.units ?? {}} onChange={choose.mutate} />
      <p className="mt-2 text-sm text-quiet">
        For you alone; a runner chooses on the phone. Shoes, feet and stacks are measured in mm, and house rules keep
        the units they are written in.
      </p>
      {choose.isSuccess && (
        <span role="status" className="text-tide">
          Kept.
        </span>
      )}
      <Failure error={choose.error} />
    </section>
  );
}
