import { SaxesParser } from "saxes";

/** A plain XML element: what a MusicXML reader needs and no more. */
export interface XmlElement {
  name: string;
  attributes: Record<string, string>;
  children: XmlElement[];
  text: string;
  line: number;
}

/** Refused input: one sentence for a person, and the line of the file where it is known. */
export class ScoreReadError extends Error {
  constructor(
    message: string,
    readonly line?: number,
  ) {
    super(line === undefined ? message : `Line ${line}: ${message}`);
  }
}

const MAX_DEPTH = 40;
const MAX_ELEMENTS = 400_000;

/**
 * Reads XML into a tree with line numbers. Entity declarations are refused and nothing outside the text is ever
 * fetched; depth and element count are limited.
 * @throws ScoreReadError with the line and the reason
 */
export function readXml(text: string): XmlElement {
  const parser = new SaxesParser({ position: true });
  const stack: XmlElement[] = [];
  let root: XmlElement | undefined;
  let elements = 0;

  parser.on("error", (error) => {
    throw new ScoreReadError(
      `this is not well-formed XML (${error.message.replace(/^[\d:]+ */, "")})`,
      parser.line,
    );
  });
  parser.on("doctype", (declaration) => {
    if (declaration.includes("["))
      throw new ScoreReadError("files that declare their own entities are refused", parser.line);
  });
  parser.on("opentag", (tag) => {
    if (stack.length >= MAX_DEPTH || ++elements > MAX_ELEMENTS) {
      throw new ScoreReadError(
        "the file is nested too deeply or too large for one line of music",
        parser.line,
      );
    }
    const element: XmlElement = {
      name: tag.name,
      attributes: { ...(tag.attributes as Record<string, string>) },
      children: [],
      text: "",
      line: parser.line,
    };
    stack.at(-1)?.children.push(element);
    root ??= element;
    stack.push(element);
  });
  parser.on("text", (content) => {
    const open = stack.at(-1);
    if (open) open.text += content;
  });
  parser.on("closetag", () => {
    stack.pop();
  });
  parser.write(text).close();
  if (!root) throw new ScoreReadError("the file is empty");
  return root;
}

export function child(element: XmlElement, name: string): XmlElement | undefined {
  return element.children.find((candidate) => candidate.name === name);
}

export function children(element: XmlElement, name: string): XmlElement[] {
  return element.children.filter((candidate) => candidate.name === name);
}

/** Trimmed text of a child, or undefined. */
export function childText(element: XmlElement, name: string): string | undefined {
  return child(element, name)?.text.trim();
}

/** Characters that XML 1.0 has no place for, not even escaped. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what must go
const NO_XML = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;

/** Escapes text for an element or a double-quoted attribute; what XML cannot hold is left out. */
export function escapeXml(text: string): string {
  return text
    .replace(NO_XML, "")
    .replace(/[&<>"]/g, (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[sign]!);
}
