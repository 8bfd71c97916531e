import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";

// Every example in a doc comment of core is run: what stands behind "// =>" is what comes out.
const ROOT = "src/core";

interface Example {
  name: string;
  file: string;
  code: string;
  expected: string;
}

function filesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory()
      ? filesIn(join(folder, entry.name))
      : entry.name.endsWith(".ts")
        ? [join(folder, entry.name)]
        : [],
  );
}

function examplesIn(file: string): Example[] {
  const source = readFileSync(file, "utf8");
  return [
    ...source.matchAll(
      /\/\*\*((?:(?!\*\/)[\s\S])*?)@example\n([\s\S]*?)\*\/\s*export (?:async )?(?:function|const) (\w+)/g,
    ),
  ].map(([, , body, name]) => {
    const lines = body!
      .split("\n")
      .map((text) => text.replace(/^\s*\* ?/, ""))
      .filter((text) => text.trim() !== "" && !/^\/\/ (?!=>)/.test(text.trim()));
    const code = lines.join("\n");
    const at = code.lastIndexOf("// =>");
    return { name: name!, file, code: code.slice(0, at).trim(), expected: code.slice(at + 5).trim() };
  });
}

const examples = filesIn(ROOT).flatMap(examplesIn);
const modules = import.meta.glob("../../src/core/**/*.ts");

describe("examples in core", () => {
  it("are there, each with what comes out", () => {
    expect(examples.length).toBeGreaterThanOrEqual(25);
    for (const { name, file, code, expected } of examples)
      expect([file, name, code !== "", expected !== ""]).toEqual([file, name, true, true]);
  });

  it.each(
    examples.map((example) => [`${example.name} (${example.file})`, example] as const),
  )("%s", async (_, { file, code, expected }) => {
    const own = (await modules[`../../${file}`]!()) as Record<string, unknown>;
    const others = await Promise.all(
      ["music", "score", "rhythm", "audio"].map((folder) => modules[`../../src/core/${folder}/index.ts`]!()),
    );
    const scope = Object.assign({}, ...others, own) as Record<string, unknown>;
    const run = (text: string) =>
      new Function(...Object.keys(scope), `return (${text.replace(/;$/, "")})`)(...Object.values(scope));
    expect(run(code)).toEqual(run(expected));
  });
});
