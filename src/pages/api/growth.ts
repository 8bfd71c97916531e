import { growthView } from "../../services/growth";
import { read } from "../_endpoint";

export const GET = read((actor) => growthView(actor));
