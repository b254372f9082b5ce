<script lang="ts">
  import Button from "flowbite-svelte/Button.svelte";
  import Input from "flowbite-svelte/Input.svelte";
  import Label from "flowbite-svelte/Label.svelte";
  import { router } from "../../lib/router.svelte";
  import { session } from "./session.svelte";

  let user = $state("");
  let password = $state("");
  let trouble = $state(
    router.query.get("failed")
      ? "The provider did not sign you in. Try again, or ask who runs it."
      : "",
  );

  async function submit(event: SubmitEvent) {
    event.preventDefault();
    trouble = "";
    try {
      await session.signIn(user, password);
      router.go("/");
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<svelte:head><title>Sign in</title></svelte:head>
<main class="mx-auto max-w-[360px] px-6 py-12">
  <h1>Sign in</h1>
  <form class="mt-6 grid gap-4" onsubmit={submit}>
    <div>
      <Label for="user" class="text-ink! mb-1">Name</Label>
      <Input
        id="user"
        bind:value={user}
        autocomplete="username"
        required
        class="bg-sheet! text-ink! border-rule! rounded-sm"
      />
    </div>
    <div>
      <Label for="password" class="text-ink! mb-1">Password</Label>
      <Input
        id="password"
        type="password"
        bind:value={password}
        autocomplete="current-password"
        required
        class="bg-sheet! text-ink! border-rule! rounded-sm"
      />
    </div>
    {#if trouble}<p class="dangling" role="alert">{trouble}</p>{/if}
    <Button type="submit" class="bg-accent! rounded-sm text-[var(--accent-ink)]!">Sign in</Button>
  </form>
  {#if session.provider}
    <p class="mt-6"><a href="/oidc/sign-in">Sign in with {session.provider}</a></p>
  {/if}
</main>
