import { PreviewBlock, previewBlock } from "../../../services/warmups";
import { endpoint, widthParam } from "../../_endpoint";

export const POST = endpoint(PreviewBlock, (actor, input, { url }) =>
  previewBlock(actor, input, widthParam(url)),
);
