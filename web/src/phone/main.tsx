import "./phone.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { open } from "./kept";
import { FillIn } from "./later";
import { Phone } from "./Phone";

void open().then(() => {
  createRoot(document.getElementById("root")!).render(
    <StrictMode>{location.pathname === "/phone/intake" ? <FillIn /> : <Phone />}</StrictMode>,
  );
});
