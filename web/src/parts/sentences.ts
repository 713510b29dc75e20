import { useToast } from "primevue/usetoast";

import { Problem } from "../api/client";

/** Say a refusal in a corner of the screen, for things that did not happen where the eye is. */
export function useSentences() {
  const toast = useToast();
  return {
    refused(error: unknown): void {
      const detail = error instanceof Problem ? error.message : "Something went wrong that should not. Try again.";
      if (!(error instanceof Problem)) console.error(error);
      toast.add({ severity: "warn", summary: "Not done", detail, life: 12000 });
    },
  };
}
