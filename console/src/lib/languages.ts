/** What a language is called, and what its words for a base are. */
const NAMES: Record<string, string> = {
  python: "Python",
  java: "Java",
  kotlin: "Kotlin",
  c: "C",
  cpp: "C++",
  csharp: "C#",
  javascript: "JavaScript",
  typescript: "TypeScript",
  go: "Go",
  rust: "Rust",
  openapi: "OpenAPI",
  asyncapi: "AsyncAPI",
  "json-schema": "JSON Schema",
  graphql: "GraphQL",
  protobuf: "Protocol Buffers",
  xsd: "XML Schema",
  wsdl: "WSDL",
  sql: "SQL",
};

export const languageName = (language: string) => NAMES[language] ?? language;

export const baseWord = (language: string, kind: string) => {
  if (kind === "type") return "stands for";
  if (language === "rust") return kind === "trait" ? "demands" : "implements";
  if (language === "go") return "embeds";
  return "extends";
};

/** The last part of a qualified name, in any spelling. */
export const lastPart = (path: string) =>
  path
    .replace(/\(.*/, "")
    .split(/::|[./#]/)
    .at(-1) ?? path;

/** The last two parts, without parameters: enough to know a member. */
export const shortPath = (path: string) =>
  /[^./#:]+(?:(?:::|[./#])[^./#:]+)?$/.exec(path.replace(/\(.*/, ""))?.[0] ?? path;
