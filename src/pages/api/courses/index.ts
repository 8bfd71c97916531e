import { listCourses, MakeCourse, makeCourse } from "../../../services/counting";
import { endpoint, read } from "../../_endpoint";

export const GET = read(async (actor) => ({ courses: await listCourses(actor) }));
export const POST = endpoint(MakeCourse, (actor, input) => makeCourse(actor, input));
