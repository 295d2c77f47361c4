/** What somebody reads figures in; what is left out is read as it is stored, in cm, kg and km. */
export interface Units {
  length?: "cm" | "in";
  mass?: "kg" | "lb";
  distance?: "km" | "mi";
}

let mine: Units = {};

/** What this page's reader reads in. */
export const reader = () => mine;

/** The server says who reads here: with the coach who is signed in, with the runner's page. */
export function readIn(u: Units | undefined) {
  mine = u ?? {};
}
