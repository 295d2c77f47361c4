import "./phone.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { open } from "./kept";
import { Angle, FillIn } from "./later";
import { Phone } from "./Phone";

void open().then(() => {
  const page = { "/phone/intake": <FillIn />, "/phone/angle": <Angle /> }[location.pathname] ?? <Phone />;
  createRoot(document.getElementById("root")!).render(<StrictMode>{page}</StrictMode>);
});
