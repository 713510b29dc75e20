import { useToast } from "primevue/usetoast";
import { ref } from "vue";

import { Problem } from "../api/client";

/** Say a refusal, or what came of something, in a corner of the screen: for what does not show where the eye is. */
export function useSentences() {
  const toast = useToast();
  return {
    said(detail: string): void {
      toast.add({ severity: "info", summary: "Note", detail, life: 12000 });
    },
    refused(error: unknown): void {
      const detail = error instanceof Problem ? error.message : "Something went wrong that should not. Try again.";
      if (!(error instanceof Problem)) console.error(error);
      toast.add({ severity: "warn", summary: "Not done", detail, life: 12000 });
    },
  };
}

/** Try something; if it is refused, `refusal` is the sentence to show beside it. */
export function useAttempt() {
  const refusal = ref("");

  async function attempt(work: () => Promise<void>): Promise<void> {
    refusal.value = "";
    try {
      await work();
    } catch (error) {
      refusal.value = error instanceof Problem ? error.message : String(error);
    }
  }

  return { refusal, attempt };
}
