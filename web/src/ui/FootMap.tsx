import { Fragment } from "react";

type Shape = { region: string; name: string; d: string };
type Picture = { name: string; outline: string; shapes: Shape[]; marks: string };

// A right foot; the left is its mirror. Drawn for this product.
const pictures: Picture[] = [
  {
    name: "sole",
    outline:
      "M72 60C66 40 70 14 84 12C98 12 100 42 94 66C100 84 94 100 86 110C82 126 86 142 84 160C84 184 74 196 60 196C44 196 34 184 37 160C34 140 24 126 27 104C22 90 26 78 33 72",
    marks: "M33 72a7 8 0 1 1 6-13M39 58a7 9 0 1 1 9-10M49 50a8 10 0 1 1 11-7M60 46a8 11 0 1 1 12-2",
    shapes: [
      { region: "big_toe", name: "big toe", d: "M73 58C67 40 71 14 84 13C97 13 99 40 93 62C87 57 79 56 73 58Z" },
      {
        region: "ball",
        name: "ball of the foot",
        d: "M28 105C25 90 28 79 35 73C50 64 74 60 92 66C97 80 93 95 86 106Z",
      },
      {
        region: "outer_foot",
        name: "outer edge",
        d: "M28 109L56 109L57 156C49 155 43 157 38 160C35 141 27 127 28 109Z",
      },
      { region: "arch", name: "arch", d: "M60 109L85 109C81 126 85 142 83 159C76 155 67 155 61 156Z" },
      {
        region: "heel_sole",
        name: "heel (sole)",
        d: "M38 164C46 157 76 157 83 163C84 184 73 195 60 195C46 195 36 184 38 164Z",
      },
    ],
  },
  {
    name: "top",
    outline:
      "M48 60C54 40 50 14 36 12C22 12 20 42 26 66C22 92 36 118 40 142L38 198M82 198L80 142C86 120 96 106 93 86C96 80 92 74 87 72",
    marks: "M87 72a7 8 0 1 0-6-13M81 58a7 9 0 1 0-9-10M71 50a8 10 0 1 0-11-7M60 46a8 11 0 1 0-12-2",
    shapes: [
      { region: "big_toe", name: "big toe", d: "M47 58C53 40 49 14 36 13C23 13 21 40 27 62C33 57 41 56 47 58Z" },
      {
        region: "top_of_foot",
        name: "top of the foot",
        d: "M28 66C46 60 70 64 91 78C95 96 84 118 79 140L42 140C38 116 25 96 28 66Z",
      },
      {
        region: "front_ankle",
        name: "front of the ankle",
        d: "M42 144L79 144C82 160 82 178 81 196L39 196C38 178 39 160 42 144Z",
      },
    ],
  },
  {
    name: "inside",
    outline:
      "M70 16C72 50 72 80 70 98C60 116 38 128 20 142C6 154 4 176 14 180L132 180C146 176 142 152 132 136C124 112 122 60 126 16",
    marks: "M34 146c6 8 8 20 6 34M44 140l6 8M54 133l6 8",
    shapes: [
      {
        region: "achilles",
        name: "Achilles tendon",
        d: "M108 30L123 30C121 70 122 108 130 134L114 134C109 104 107 64 108 30Z",
      },
      { region: "inner_ankle", name: "inner ankle", d: "M72 118a20 22 0 1 0 40 0a20 22 0 1 0-40 0Z" },
      {
        region: "heel_back",
        name: "heel (back)",
        d: "M112 140L131 138C142 154 142 174 130 179L102 179C100 162 104 148 112 140Z",
      },
      { region: "arch", name: "arch", d: "M50 179C52 162 62 150 80 148C94 150 98 164 98 179Z" },
      {
        region: "big_toe",
        name: "big toe",
        d: "M6 166C6 154 16 148 28 146C36 152 38 166 37 179L16 179C10 178 6 174 6 166Z",
      },
    ],
  },
  {
    name: "outside",
    outline:
      "M88 16C86 50 86 80 88 98C98 116 120 128 138 142C152 154 154 176 144 180L26 180C12 176 16 152 26 136C34 112 36 60 32 16",
    marks: "M124 148c-4 8-6 20-4 32M136 150c-3 8-4 18-3 30M112 142l-6 8",
    shapes: [
      { region: "achilles", name: "Achilles tendon", d: "M50 30L35 30C37 70 36 108 28 134L44 134C49 104 51 64 50 30Z" },
      { region: "outer_ankle", name: "outer ankle", d: "M46 120a20 22 0 1 0 40 0a20 22 0 1 0-40 0Z" },
      {
        region: "heel_back",
        name: "heel (back)",
        d: "M46 140L27 138C16 154 16 174 28 179L56 179C58 162 54 148 46 140Z",
      },
      { region: "outer_foot", name: "outer edge", d: "M60 179C60 166 64 158 74 152L116 150C112 160 110 170 111 179Z" },
    ],
  },
  {
    name: "leg from behind",
    outline:
      "M34 10C22 46 26 92 44 122C50 140 48 152 44 164C36 180 40 196 60 196C80 196 84 180 76 164C72 152 70 140 76 122C94 92 98 46 86 10",
    marks: "M60 24v70",
    shapes: [
      { region: "calf", name: "calf", d: "M35 14C25 48 29 92 46 118L74 118C91 92 95 48 85 14C70 20 50 20 35 14Z" },
      {
        region: "achilles",
        name: "Achilles tendon",
        d: "M46 122L74 122C70 138 70 150 73 161L47 161C50 150 50 138 46 122Z",
      },
      { region: "heel_back", name: "heel (back)", d: "M46 165L74 165C83 181 79 195 60 195C41 195 37 181 46 165Z" },
    ],
  },
  {
    name: "leg from the front",
    outline:
      "M30 6C30 22 34 34 38 42C32 58 36 68 42 76C40 104 46 134 48 152C44 166 40 180 36 196M90 6C90 22 86 34 82 42C88 58 84 68 78 76C80 104 74 134 72 152C76 166 80 180 84 196",
    marks: "",
    shapes: [
      {
        region: "above_knee",
        name: "above the knee",
        d: "M34 8C35 22 38 32 41 38L79 38C82 32 85 22 86 8C70 4 50 4 34 8Z",
      },
      { region: "knee", name: "knee", d: "M40 43C35 58 39 66 45 73L75 73C81 66 85 58 80 43Z" },
      { region: "shin", name: "shin", d: "M44 78L76 78C78 104 73 132 71 150L49 150C47 132 42 104 44 78Z" },
      {
        region: "front_ankle",
        name: "front of the ankle",
        d: "M49 154L71 154C75 168 79 182 83 195L37 195C41 182 45 168 49 154Z",
      },
    ],
  },
];

export interface Mark {
  region: string;
  side: string;
  word?: string;
}

/** The foot and leg map: six views of each side; every place is a button for finger and keyboard. */
export function FootMap({
  sides = ["left", "right"],
  marked,
  onPick,
  wide,
}: {
  sides?: ("left" | "right")[];
  marked: Mark[];
  onPick: (region: string, side: "left" | "right") => void;
  wide?: boolean;
}) {
  return (
    <div className={sides.length > 1 && !wide ? "grid gap-4 md:grid-cols-2" : "grid gap-4"}>
      {sides.map((side) => (
        <fieldset key={side} className="min-w-0">
          <legend className="font-medium capitalize">{side}</legend>
          <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-2">
            {pictures.map((p) => {
              const width = p.name.endsWith("side") ? 160 : 120;
              return (
                <figure key={p.name} className="min-w-0">
                  <svg viewBox={`0 0 ${width} 204`} className="h-48 w-full">
                    <g transform={side === "left" ? `translate(${width} 0) scale(-1 1)` : undefined}>
                      <path d={p.outline} fill="none" stroke="var(--ink)" strokeWidth={2} />
                      <path d={p.marks} fill="none" stroke="var(--quiet)" strokeWidth={2} />
                      {p.shapes.map((s) => {
                        const here = marked.filter(
                          (m) => m.region === s.region && (m.side === side || m.side === "both"),
                        );
                        return (
                          <Fragment key={s.region}>
                            <path
                              d={s.d}
                              role="button"
                              tabIndex={0}
                              aria-label={`${side} ${s.name}, ${p.name}${here.length ? ", marked" : ""}`}
                              aria-pressed={here.length > 0}
                              onClick={() => onPick(s.region, side)}
                              onKeyDown={(e) =>
                                (e.key === "Enter" || e.key === " ") && (e.preventDefault(), onPick(s.region, side))
                              }
                              className="cursor-pointer hover:fill-sunk focus-visible:stroke-[5]"
                              fill={here.length ? "var(--cinder)" : "var(--panel)"}
                              stroke={here.length ? "var(--ink)" : "var(--quiet)"}
                              strokeWidth={here.length ? 3 : 1.5}
                            />
                          </Fragment>
                        );
                      })}
                    </g>
                  </svg>
                  <figcaption className="text-center text-sm text-quiet">{p.name}</figcaption>
                </figure>
              );
            })}
          </div>
        </fieldset>
      ))}
    </div>
  );
}
