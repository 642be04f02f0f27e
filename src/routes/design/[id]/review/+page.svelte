<script lang="ts">
  import Review from '$lib/ui/review/Review.svelte'
</script>

<Review />
