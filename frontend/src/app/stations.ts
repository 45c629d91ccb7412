/** The stations in working order; the navigation is this chain. */
export const STATIONS = [
  { key: "1", path: "/measure", name: "Measure" },
  { key: "2", path: "/grinders", name: "Grinders" },
  { key: "3", path: "/plan", name: "Plan" },
  { key: "4", path: "/brew", name: "Brew" },
  { key: "5", path: "/cup", name: "Cup" },
  { key: "6", path: "/slips", name: "Slips" },
  { key: "7", path: "/practice", name: "Practice" },
] as const;
