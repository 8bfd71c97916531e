/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    actor: import("./services/actor").Actor;
    /** What a page did not find, and where such things are listed. */
    notFound?: { message: string; elsewhere: string };
  }
}
