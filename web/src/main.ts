import "@fontsource-variable/bricolage-grotesque/index.css";
import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "@fontsource/dm-mono/400.css";
import "@fontsource/dm-mono/500.css";
import "./theme/page.css";

import { createPinia } from "pinia";
import PrimeVue from "primevue/config";
import ToastService from "primevue/toastservice";
import { createApp } from "vue";

import { openSoon } from "./api/events";
import { isUnreachable, useQueries } from "./api/queries";
import App from "./App.vue";
import { router } from "./router";
import { beginAppearance } from "./theme/appearance";
import { kitePreset } from "./theme/preset";

// A dialog that fades in takes the focus a second time once it stands: keys pressed meanwhile went to another button.
const instantly = { dialog: { transition: { css: false } } };

/**
 * What only follows along and got no answer is asked again with the next one; that none comes is told once, in the
 * head.
 */
function waits(error: unknown): boolean {
  if (!isUnreachable(error)) return false;
  openSoon();
  return true;
}

window.addEventListener("unhandledrejection", (event) => {
  if (waits(event.reason)) event.preventDefault();
});

beginAppearance();
const app = createApp(App);
app.config.errorHandler = (error) => {
  if (!waits(error)) console.error(error);
};
app
  .use(createPinia())
  .use({ install: useQueries })
  .use(router)
  .use(PrimeVue, { theme: { preset: kitePreset, options: { darkModeSelector: ".never-dark" } }, pt: instantly })
  .use(ToastService)
  .mount("#app");
