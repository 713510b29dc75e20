<script setup lang="ts">
import type { Planned } from "../../api/client";

/** On paper stands the whole list, a shot after the other, and nothing to click. */
defineProps<{ name: string; list: Planned[] }>();
</script>

<template>
  <section class="on-paper" aria-hidden="true">
    <h2>{{ name }}: to shoot</h2>
    <div v-for="one in list" :key="one.id" class="shot-on-paper">
      <h3>{{ one.planned.name }}</h3>
      <p v-if="one.starts">
        {{ one.starts.slice(0, 16).replace("T", " ") }} to {{ one.ends?.slice(0, 16).replace("T", " ") }}
      </p>
      <p>{{ one.sentence }}</p>
      <ul>
        <li v-for="said in one.advice" :key="said.about">{{ said.look ? "▲ " : "" }}{{ said.sentence }}</li>
      </ul>
      <p v-if="one.planned.note">{{ one.planned.note }}</p>
      <ul v-if="one.planned.kit?.length" class="kit">
        <li v-for="item in one.planned.kit" :key="item.what">{{ item.ready ? "☑" : "☐" }} {{ item.what }}</li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.on-paper {
  display: none;
}

.kit {
  columns: 2;
  list-style: none;
  padding: 0;
}

@media print {
  .on-paper {
    display: block;
  }

  .shot-on-paper {
    break-inside: avoid;
    margin-top: 1.2rem;
  }
}
</style>
