<script lang="ts">
  import { Loader } from "../../lib/loader.svelte";
  import Trouble from "../../lib/ui/Trouble.svelte";
  import { ago, count, exactTime } from "../../lib/words";
  import {
    FOR_WHOM,
    getMembers,
    MAY,
    type Member,
    removeMember,
    type Role,
    setMember,
    setVisibility,
    type Visibility,
  } from "./api";

  let { slug }: { slug: string } = $props();
  const loader = new Loader<Awaited<ReturnType<typeof getMembers>>>();
  $effect(() => {
    loader.load(slug, () => getMembers(slug));
  });
  const roles = Object.keys(MAY) as Role[];
  let kind = $state<"team" | "user">("team");
  let name = $state("");
  let role = $state<Role>("reader");
  let trouble = $state("");

  async function change(act: () => Promise<unknown>) {
    trouble = "";
    try {
      await act();
      await loader.again(() => getMembers(slug));
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error);
    }
  }
  async function add(event: SubmitEvent) {
    event.preventDefault();
    await change(() => setMember(slug, kind, name.trim(), role));
    if (!trouble) name = "";
  }
  const called = (member: Member) => member.user || `team ${member.team}`;
</script>

<svelte:head><title>Who may read {slug}</title></svelte:head>
{#if loader.problem}
  <Trouble problem={loader.problem} />
{:else if loader.data}
  {@const { visibility, members } = loader.data}
  <main class="mx-auto max-w-[860px] px-6 py-9">
    <p class="soft"><a class="plain" href="/projects/{slug}">{slug}</a></p>
    <h1>Who may read it</h1>
    <p class="sentence mt-2">
      {slug} is for <strong>{FOR_WHOM[visibility]}</strong>, and
      <strong>{count(members.length, "member")}</strong>
      {members.length === 1 ? "has" : "have"} a part in it. Administrators may do everything.
    </p>
    <fieldset class="mt-5 flex flex-wrap gap-x-6 gap-y-2">
      <legend class="small soft mb-1">It is for</legend>
      {#each Object.entries(FOR_WHOM) as [value, words] (value)}
        <label class="flex items-baseline gap-2"
          ><input
            type="radio"
            class="accent-accent"
            name="visibility"
            {value}
            checked={value === visibility}
            onchange={() => change(() => setVisibility(slug, value as Visibility))}
          />{words}</label
        >
      {/each}
    </fieldset>
    {#if trouble}<p class="dangling mt-3" role="alert">{trouble}</p>{/if}
    <h2 class="mt-8">Members</h2>
    <ul class="rows">
      {#each members as member (called(member) + member.is_everywhere)}
        <li class="grid items-baseline gap-x-6 sm:grid-cols-[1fr_150px_190px_90px]">
          <strong>{called(member)}</strong>
          {#if member.is_everywhere}
            <span>{member.role}</span><span class="small soft">in all projects</span><span></span>
          {:else}
            <select
              class="bg-sheet text-ink rounded-sm border px-2 py-1"
              aria-label="Part of {called(member)}"
              value={member.role}
              onchange={(event) =>
                change(() =>
                  setMember(
                    slug,
                    member.user ? "user" : "team",
                    member.user || member.team,
                    event.currentTarget.value as Role,
                  ),
                )}
            >
              {#each roles as each (each)}<option>{each}</option>{/each}
            </select>
            <span class="small soft"
              >since <time title={exactTime(member.since)}>{ago(member.since)}</time></span
            >
            <button
              type="button"
              class="text-accent cursor-pointer text-left underline"
              onclick={() => change(() => removeMember(slug, member))}>Take away</button
            >
          {/if}
        </li>
      {:else}<li class="soft">Nobody has a part in it.</li>
      {/each}
    </ul>
    <h2 class="mt-8">Give a part</h2>
    <form class="mt-2 flex flex-wrap items-end gap-4" onsubmit={add}>
      <label class="small soft"
        >To a
        <select
          class="bg-sheet text-ink mt-1 block rounded-sm border px-2 py-1.5"
          bind:value={kind}
        >
          <option value="team">team</option><option value="user">person</option>
        </select></label
      >
      <label class="small soft grow"
        >Called
        <input
          class="bg-sheet text-ink mt-1 block w-full rounded-sm border px-3 py-1.5"
          bind:value={name}
          required
          maxlength="150"
        /></label
      >
      <label class="small soft"
        >As
        <select
          class="bg-sheet text-ink mt-1 block rounded-sm border px-2 py-1.5"
          bind:value={role}
        >
          {#each roles as each (each)}<option>{each}</option>{/each}
        </select></label
      >
      <button
        class="border-accent text-accent cursor-pointer rounded-sm border px-4 py-1.5 font-semibold"
        >Give it</button
      >
    </form>
    <p class="small soft mt-2">{role === "owner" ? "An" : "A"} {role} {MAY[role]}.</p>
  </main>
{/if}
