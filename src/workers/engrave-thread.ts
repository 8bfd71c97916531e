import { parentPort } from "node:worker_threads";
import { VerovioToolkit } from "verovio/esm";
import createVerovioModule from "verovio/wasm";
import type { EngraveRequest, EngravingWidth } from "../server/engrave";

/** Page widths in Verovio's units (tenths of a millimetre) for about 390, 720 and 1000 CSS pixels. */
const PAGE_WIDTHS: Record<EngravingWidth, number> = { narrow: 1000, medium: 1750, wide: 2100 };

const toolkit = createVerovioModule().then((module: unknown) => new VerovioToolkit(module));

parentPort!.on("message", async ({ musicXml, width }: EngraveRequest) => {
  try {
    const verovio = await toolkit;
    verovio.setOptions({
      inputFrom: "musicxml",
      pageWidth: PAGE_WIDTHS[width],
      pageHeight: 60000,
      adjustPageHeight: true,
      pageMarginLeft: 20,
      pageMarginRight: 20,
      pageMarginTop: 20,
      pageMarginBottom: 20,
      scale: 45,
      breaks: "auto",
      footer: "none",
      header: "none",
      svgViewBox: true,
      spacingSystem: 6,
      xmlIdSeed: 1,
      mnumInterval: 0,
    });
    if (!verovio.loadData(musicXml)) throw new Error("The engraver could not read this part");
    parentPort!.postMessage({ answer: verovio.renderToSVG(1) });
  } catch (error) {
    parentPort!.postMessage({ problem: (error as Error).message });
  }
});
