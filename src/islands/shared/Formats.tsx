/** Links to the same lines as a file of each kind. */
const FORMATS = { csv: "CSV", xlsx: "Worksheet", json: "JSON" } as const;

interface Props {
  /** The endpoint the file comes from. */
  of: { path: string };
  query: Readonly<Record<string, string | undefined>>;
  className?: string;
}

export function Formats({ of, query, className }: Props) {
  const asked = Object.entries(query).filter((pair): pair is [string, string] => pair[1] !== undefined);
  return Object.entries(FORMATS).map(([format, name]) => (
    <a key={format} className={className} href={`${of.path}?${new URLSearchParams([...asked, ["format", format]])}`} download>
      {name}
    </a>
  ));
}
