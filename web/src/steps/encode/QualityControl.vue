<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import FormatSettings from "./FormatSettings.vue";
import { provideEncoding } from "./encoding";

const shot = useShot();

provideEncoding({
  owner: computed(() => ({ kind: "shots", id: shot.shot!.id })),
  encode: computed(() => shot.decisions!.encode),
  revision: computed(() => shot.revision),
  // Sizes are measured where they are shown.
  isReady: computed(() => false),
  decide: (change) => shot.decide({ encode: change }),
  begin: () => Promise.resolve(),
});
</script>

<template><FormatSettings class="in-brief" /></template>

<style scoped>
.in-brief {
  max-width: 26rem;
}
</style>
