import { drawerView } from "../../../services/week";
import { read } from "../../_endpoint";

export const GET = read((actor) => drawerView(actor));
