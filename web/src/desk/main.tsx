import { start } from "../shared/Frame";
import { App } from "./App";

start(<App />, "/desk");
