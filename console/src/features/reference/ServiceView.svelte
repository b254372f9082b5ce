<script lang="ts">
  import Html from "../../lib/ui/Html.svelte";
  import { count } from "../../lib/words";
  import { encodePath } from "../../lib/http/client";
  import { listOperations, type NamedLink, type OperationGroup, type Service } from "./interface";
  import SlotList from "./SlotList.svelte";
  let {
    service,
    path,
    slug,
    version,
  }: { service: Service; path: string; slug: string; version: string } = $props();

  let loaded = $state.raw<Record<string, NamedLink[]>>({});
  async function show(group: OperationGroup) {
    const found = await listOperations(slug, version, path, group.name);
    const links = found.items.map((o) => ({
      name: o.path.split(".").at(-1) ?? o.path,
      href: `/ref/${slug}/${version}/${encodePath(o.path)}`,
      kind: `${o.method} ${o.address}`,
      html: o.html,
      deprecated: o.deprecated,
    }));
    loaded = { ...loaded, [group.name]: links };
  }
</script>

<dl class="mt-6 grid gap-x-6 gap-y-1 sm:grid-cols-[120px_1fr]">
  <dt class="soft">Described in</dt>
  <dd>
    {service.standard}{#if service.version}<span class="soft"
        >, its own version {service.version}</span
      >{/if}
  </dd>
  {#if service.servers?.length}
    <dt class="soft">Served at</dt>
    <dd>
      {#each service.servers as server (server.name)}
        <p><code>{server.name}</code> <span class="soft">{server.text ?? ""}</span></p>
      {/each}
    </dd>
  {/if}
  {#if service.schemes?.length}
    <dt class="soft">Who may ask</dt>
    <dd>
      {#each service.schemes as scheme (scheme.scheme)}
        <p>
          {scheme.words}
          {#if scheme.html}<Html html={scheme.html} class="soft inline" />{/if}
        </p>
      {/each}
    </dd>
  {/if}
  {#if service.contact && Object.keys(service.contact).length}
    <dt class="soft">Ask</dt>
    <dd>
      {service.contact.name ?? ""}
      {#if service.contact.email}<a href="mailto:{service.contact.email}">{service.contact.email}</a
        >{/if}
      {#if /^https?:/.test(service.contact.url ?? "")}<a href={service.contact.url}
          >{service.contact.url}</a
        >{/if}
    </dd>
  {/if}
  {#if service.licence?.name}
    <dt class="soft">Licence</dt>
    <dd>
      {#if /^https?:/.test(service.licence.url ?? "")}<a href={service.licence.url}
          >{service.licence.name}</a
        >{:else}{service.licence.name}{/if}
    </dd>
  {/if}
  {#if /^https?:/.test(service.terms ?? "")}
    <dt class="soft">Terms</dt>
    <dd><a href={service.terms}>{service.terms}</a></dd>
  {/if}
  {#each Object.entries(service.documents ?? {}) as [name, url] (name)}
    <dt class="soft">{name.split(":")[0]}</dt>
    <dd>
      {#if /^https?:/.test(url)}<a href={url}>{url}</a>{:else}{name.split(": ").at(-1)}
        <span class="soft">{url}</span>{/if}
    </dd>
  {/each}
</dl>
{#if service.headers?.length}
  <section class="mt-8">
    <h2>Headers of every operation</h2>
    <SlotList slots={service.headers} />
  </section>
{/if}
{#each service.groups ?? [] as group (group.name)}
  <section class="mt-10" id={group.name}>
    <h2>
      {group.name || "Operations"}
      <span class="small soft ml-1">{count(group.total ?? 0, "operation")}</span>
    </h2>
    {#if group.html}<Html html={group.html} class="prose field" />{/if}
    <ul class="rows mt-1">
      {#each loaded[group.name] ?? group.operations ?? [] as operation (operation.href)}
        <li class="grid gap-x-6 sm:grid-cols-[270px_1fr]">
          <span class="min-w-0">
            <a class="font-mono text-[14px] font-semibold break-words" href={operation.href}
              >{operation.kind || operation.name}</a
            >
          </span>
          <span class="min-w-0">
            {#if operation.deprecated}<span class="tag stale">deprecated</span>{/if}
            {#if operation.html}<Html html={operation.html} class="font-serif text-[16px]" />{/if}
          </span>
        </li>
      {/each}
    </ul>
    {#if !loaded[group.name] && (group.operations?.length ?? 0) < (group.total ?? 0)}
      <button
        type="button"
        class="small text-accent cursor-pointer underline underline-offset-4"
        onclick={() => show(group)}>Show all {group.total}</button
      >
    {/if}
  </section>
{/each}
