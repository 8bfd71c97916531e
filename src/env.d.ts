/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    actor: import("./services/actor").Actor;
  }
}
