export { Editor } from "../short_text/Editor";
