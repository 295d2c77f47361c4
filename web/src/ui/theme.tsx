import { useEffect, useState } from "react";
import { Button } from "./Button";

/** Switches between the light and the dark theme, on this device. */
export function ThemeSwitch() {
  const [theme, set] = useState(document.documentElement.dataset.theme ?? "light");
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
    localStorage.setItem("theme", theme);
  }, [theme]);
  return (
    <Button kind="quiet" onClick={() => set(theme === "dark" ? "light" : "dark")}>
      {theme === "dark" ? "Light" : "Dark"}
    </Button>
  );
}
