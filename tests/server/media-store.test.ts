import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { folderStore, type MediaStore } from "../../src/server/media-store";
import { sniffSound } from "../../src/server/sniff";

let folder: string;
let store: MediaStore;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "ulu-store-"));
  store = folderStore(folder);
});
afterAll(() => rmSync(folder, { recursive: true }));

const bytes = (...values: number[]) => Uint8Array.from(values);

describe("the folder store", () => {
  it("puts, reads, moves and removes under paths of our own making", async () => {
    await store.put("takes/a/one.wav", bytes(1, 2, 3));
    expect(await store.has("takes/a/one.wav")).toBe(true);
    await store.move("takes/a/one.wav", "takes/b/two.wav");
    expect([...(await store.read("takes/b/two.wav"))]).toEqual([1, 2, 3]);
    expect(await store.has("takes/a/one.wav")).toBe(false);
    await store.remove("takes/b/two.wav");
    await store.remove("takes/b/two.wav");
    expect(await store.has("takes/b/two.wav")).toBe(false);
  });

  it("leaves no half-written file under the name when two writers meet", async () => {
    await Promise.all(
      Array.from({ length: 8 }, (_, i) => store.put("takes/same.wav", new Uint8Array(50_000).fill(i))),
    );
    const kept = await store.read("takes/same.wav");
    expect(kept.length).toBe(50_000);
    expect(new Set(kept).size).toBe(1);
    expect(readdirSync(join(folder, "takes")).filter((name) => name.endsWith(".part"))).toEqual([]);
  });

  it("grows an upload chunk by chunk, and a repeated chunk changes nothing", async () => {
    expect(await store.size("uploads/u")).toBe(0);
    expect(await store.append("uploads/u", 0, bytes(1, 2, 3, 4))).toBe(4);
    expect(await store.append("uploads/u", 4, bytes(5, 6))).toBe(6);
    expect(await store.append("uploads/u", 4, bytes(5, 6))).toBe(6);
    expect([...(await store.read("uploads/u"))]).toEqual([1, 2, 3, 4, 5, 6]);
  });

  it("begins again from the start when the first chunk comes once more", async () => {
    await store.append("uploads/v", 0, bytes(9, 9, 9));
    expect(await store.append("uploads/v", 0, bytes(1))).toBe(1);
    expect([...(await store.read("uploads/v"))]).toEqual([1]);
  });

  it("streams exactly the bytes asked for", async () => {
    await store.put("takes/range.wav", bytes(0, 1, 2, 3, 4, 5, 6, 7));
    const part = new Uint8Array(await new Response(store.stream("takes/range.wav", 2, 5)).arrayBuffer());
    expect([...part]).toEqual([2, 3, 4, 5]);
  });

  it.each([
    "../outside",
    "takes/../../outside",
    "takes/a b",
    "takes/a\u0000b",
  ])("refuses the key %j", async (key) => {
    await expect(async () => store.put(key, bytes(1))).rejects.toThrow(/media key/);
  });
});

describe("what a file is, by its first bytes", () => {
  const text = (value: string) => new TextEncoder().encode(value);
  it.each([
    ["wav", text("RIFF\u0000\u0000\u0000\u0000WAVEfmt ")],
    ["flac", text("fLaC....")],
    ["ogg", text("OggS....")],
    ["webm", bytes(0x1a, 0x45, 0xdf, 0xa3, 1)],
    ["m4a", text("....ftypM4A ")],
    ["mp3", text("ID3....")],
    ["mp3", bytes(0xff, 0xfb, 0x90, 0x64)],
    [null, text("dear diary, today I practised")],
    [null, text("RIFF....AVI LIST")],
    [null, text("<html>")],
    [null, bytes(0xff, 0xd8, 0xff, 0xe0)],
    [null, bytes()],
  ] as const)("%s", (kind, head) => {
    expect(sniffSound(head)).toBe(kind);
  });
});
