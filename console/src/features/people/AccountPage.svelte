<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, count, exactTime } from "../../lib/words";
  import { session } from "../session/session.svelte";
  import { endSession, getAccount } from "./api";
  import MailList from "./MailList.svelte";
  import TokenList from "./TokenList.svelte";

  const loader = new Loader<Awaited<ReturnType<typeof getAccount>>>();
  loader.load("account", getAccount);
  let trouble = $state("");

  async function end(id: number) {
    trouble = "";
    try {
      await endSession(id);
      await loader.again(getAccount);
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<svelte:head><title>Your account</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  {@const { tokens, sessions, mail } = loader.data}
  <main class="mx-auto max-w-[980px] px-6 py-9">
    <h1>{session.user}</h1>
    <p class="sentence mt-2">
      You see <strong>{count(tokens.length, "token")}</strong> and are signed in at
      <strong>{count(sessions.length, "place")}</strong>. <a href="/audit">What was done</a> here.
    </p>
    <TokenList {tokens} onchange={() => loader.again(getAccount)} />
    <MailList {mail} onchange={() => loader.again(getAccount)} />
    <h2 class="mt-10">Where you are signed in</h2>
    {#if trouble}<p class="dangling" role="alert">{trouble}</p>{/if}
    <ul class="rows">
      {#each sessions as each (each.id)}
        <li class="grid items-baseline gap-x-6 sm:grid-cols-[1fr_220px_120px]">
          <span class="min-w-0 truncate" title={each.agent}
            >{each.agent || "An unnamed browser"}
            <span class="small soft">from {each.address}</span></span
          >
          <span class="small soft"
            >used <time title={exactTime(each.seen_at)}>{ago(each.seen_at)}</time>, since
            <time title={exactTime(each.created_at)}>{ago(each.created_at)}</time></span
          >
          {#if each.is_this}<span class="small soft">this one</span>
          {:else}<button
              type="button"
              class="text-accent cursor-pointer text-left underline"
              onclick={() => end(each.id)}>Sign it out</button
            >{/if}
        </li>
      {/each}
    </ul>
  </main>
{/if}
