<!-- The keys that do something. -->
<script lang="ts">
  import { KEYS } from './keys'
</script>

{#each KEYS as { where, keys } (where)}
  <section class="mb-4 grid break-inside-avoid content-start gap-1" aria-label={where}>
    <h3 class="text-xs tracking-[0.2em] text-soft uppercase">{where}</h3>
    <dl class="grid grid-cols-[170px_1fr] gap-x-4 gap-y-1 text-[13px]">
      {#each keys as [key, what] (key)}<dt class="font-mono text-xs">{key}</dt>
        <dd>{what}</dd>{/each}
    </dl>
  </section>
{/each}
