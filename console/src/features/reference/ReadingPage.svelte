<script lang="ts">
  import type { Snippet } from "svelte";
  import ContentsList from "../../lib/ui/ContentsList.svelte";
  import MarginNotes from "../../lib/ui/MarginNotes.svelte";
  import type { Finding, Navigation } from "../../lib/types";

  /** A page that is read: the contents of its project before it, what is said of it beside it. */
  let {
    page,
    children,
    aside,
  }: {
    page: { navigation: Navigation; findings: Finding[] };
    children: Snippet;
    aside: Snippet;
  } = $props();
</script>

<div
  data-noted
  class="mx-auto grid max-w-[1280px] gap-x-11 px-5 py-7 sm:px-10 min-[1100px]:grid-cols-[212px_minmax(0,660px)_236px] min-[760px]:max-[1099px]:grid-cols-[200px_minmax(0,1fr)]"
>
  <div class="order-2 mt-12 min-[760px]:order-none min-[760px]:mt-0">
    <ContentsList navigation={page.navigation} />
  </div>
  <main class="min-w-0">{@render children()}</main>
  <div class="min-w-0 max-[1099px]:mt-8 min-[760px]:max-[1099px]:col-start-2 min-[1100px]:mt-2">
    {@render aside()}
    {#key page}<MarginNotes findings={page.findings} project={page.navigation.project} />{/key}
  </div>
</div>
