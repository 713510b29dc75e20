<script setup lang="ts">
import { useFrames } from "../frames";

const frames = useFrames();
</script>

<template>
  <svg class="guides" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
    <g v-for="shade in ['dark', 'light']" :key="shade" :class="shade">
      <path v-if="frames.guides.includes('thirds')" d="M33.333 0V100 M66.667 0V100 M0 33.333H100 M0 66.667H100" />
      <path v-if="frames.guides.includes('centre')" d="M50 44V56 M44 50H56" />
      <path v-if="frames.guides.includes('margins')" d="M10 10H90V90H10Z" />
      <path
        v-if="frames.grid"
        d="M10 0V100 M20 0V100 M30 0V100 M40 0V100 M50 0V100 M60 0V100 M70 0V100 M80 0V100 M90 0V100 M0 10H100 M0 20H100 M0 30H100 M0 40H100 M0 50H100 M0 60H100 M0 70H100 M0 80H100 M0 90H100"
      />
    </g>
  </svg>
</template>

<style scoped>
.guides {
  height: 100%;
  inset: 0;
  pointer-events: none;
  position: absolute;
  width: 100%;
}

path {
  fill: none;
  vector-effect: non-scaling-stroke;
}

.dark {
  stroke: var(--under-mark);
  stroke-width: 2.5;
}

.light {
  stroke: var(--on-picture-soft);
  stroke-width: 1;
}
</style>
