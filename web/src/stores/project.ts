import { defineStore } from "pinia";
import { ref } from "vue";

import { api, type ProjectDetail } from "../api/client";
import { newest } from "../api/newest";

/** The project that is open. */
export const useProject = defineStore("project", () => {
  const project = ref<ProjectDetail>();

  const read = newest(api.project, (found) => (project.value = found));

  function load(id: number): Promise<void> {
    if (project.value?.id !== id) project.value = undefined;
    return read(id);
  }

  async function rename(name: string): Promise<void> {
    if (!project.value) return;
    await api.renameProject(project.value.id, name);
    project.value.name = name;
  }

  return { project, load, rename };
});
