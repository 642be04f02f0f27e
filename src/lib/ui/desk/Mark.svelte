<!-- The marks of a column: a solid bar for the primary key, a bent arrow for a link, both together. -->
<script lang="ts">
  const { key, link }: { key: boolean; link: boolean } = $props()
</script>

<svg
  viewBox="0 0 22 14"
  width="22"
  height="14"
  role="img"
  aria-label={[key && 'key', link && 'link'].filter(Boolean).join(' and ') || 'column'}
>
  {#if key}<rect x="3" y="1.5" width="5" height="11" fill="currentColor" />{/if}
  {#if link}
    <path d="M11 2.5v5h8m-3-3 3 3-3 3" fill="none" stroke="var(--color-primary)" stroke-width="1.8" />
  {/if}
</svg>
