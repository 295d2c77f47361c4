/** What may be said of a run, in the order it is offered; nothing comes first. */
export const kinds = [
  { id: "", name: "not said" },
  { id: "easy", name: "easy" },
  { id: "quality", name: "quality" },
  { id: "long", name: "long" },
  { id: "hills", name: "hills" },
  { id: "race", name: "race" },
  { id: "back", name: "back to running" },
  { id: "bare", name: "bare part" },
] as const;

export const surfaces = ["", "road", "track", "grass", "trail", "sand", "treadmill"] as const;
