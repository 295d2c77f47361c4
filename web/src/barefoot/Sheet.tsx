import { day } from "../ui/day";
import { firsts } from "./AheadView";
import { far, stageName, type State, type View } from "./stages";

/** The plan on one page for the runner: only printed. */
export function Sheet({ name, view, state }: { name: string; view: View; state: State }) {
  const thin = view.plan?.aim === "thin";
  return (
    <article aria-label="On one page" className="hidden text-[11pt] print:block">
      <h1 className="text-2xl">
        {name}: {thin ? `from ${view.plan?.from} to ${view.plan?.shoe}` : "on bare feet"}
      </h1>
      <p className="mt-1">
        {day(view.today)}. Stage {stageName(state.now.stage)}.
      </p>
      <p className="mt-2 text-xl font-semibold first-letter:uppercase">{state.dose.words}</p>
      <h2 className="mt-3 font-semibold">This week</h2>
      <ul>
        {view.week.map((p) => (
          <li key={p.on}>
            {day(p.on)}: {p.words}
          </li>
        ))}
      </ul>
      {view.ahead && (
        <>
          <h2 className="mt-3 font-semibold">The way ahead, at the earliest, if every week is quiet</h2>
          <ul>
            {firsts(view.ahead).map((f) => (
              <li key={f.stage}>
                Stage {f.stage}, {f.name}: {f.at === view.ahead?.steps[0] ? "now" : far(f.at?.on ?? "")}; {f.at?.words}
              </li>
            ))}
            {view.ahead.done && <li>Reached: {far(view.ahead.done)}</li>}
          </ul>
        </>
      )}
      <h2 className="mt-3 font-semibold">How it goes on</h2>
      <ul className="list-disc pl-5">
        <li>
          A quiet week: five mornings told, none two or more above usual; no pain above 2; done as planned, not more.
        </li>
        <li>
          Sole or calf sore for two days: the same week again. A bad morning, or pain above 5: a week back, at once.
        </li>
        <li>Seven days without: it waits. Two weeks and more: back. Four weeks: from the beginning.</li>
        <li>
          A soft ball under the foot first. Not on tired feet, not on the day of quality, not the day after hard calf
          work.
        </li>
        <li>Firm, smooth ground first. The first time on a new ground, in the wet or in the cold: half.</li>
        <li>In a week in which bare feet grow, running, cadence and strike stay as they are.</li>
      </ul>
      <h2 className="mt-3 font-semibold">Stop, and tell your coach</h2>
      <ul className="list-disc pl-5">
        <li>Pain on a bone on top of the foot, to one finger: stop, no running, have it looked at.</li>
        <li>Broken skin: rest until it is healed. Look at the soles before and after.</li>
        <li>Numbness or loss of feeling; sharp or rising pain; pain at night or at rest; swelling.</li>
        <li>Chest pain, collapse or breathlessness: call for help.</li>
      </ul>
      <p className="mt-3">This is coaching, not medical care; licensed practice and local rules come first.</p>
    </article>
  );
}
