import type { Everybody } from "../../contracts/answers.ts";
import { type Principal, principalKey } from "../../core/access/document.ts";

interface Props {
  everybody: Everybody;
  value: Principal | null;
  label: string;
  onChange(principal: Principal | null): void;
}

/** Chooses whom a rule names: an audience, a group, a person. Groups come before people: rules for groups outlive people. */
export function PrincipalPicker({ everybody, value, label, onChange }: Props) {
  const choices: { head: string; items: { principal: Principal; name: string }[] }[] = [
    {
      head: "Everybody of a kind",
      items: [
        { principal: { audience: "public" }, name: "the public" },
        { principal: { audience: "accounts" }, name: "everybody signed in" },
        { principal: { audience: "members" }, name: "all members" },
      ],
    },
    { head: "Groups", items: everybody.groups.map((it) => ({ principal: { group: it.id }, name: it.name })) },
    {
      head: "People",
      items: everybody.people.map((it) => ({ principal: { person: it.id }, name: it.kind === "guest" ? `${it.name} (guest)` : it.name })),
    },
  ];
  const all = choices.flatMap((choice) => choice.items);
  return (
    <select
      className="field"
      aria-label={label}
      value={value ? principalKey(value) : ""}
      onChange={(event) => onChange(all.find((it) => principalKey(it.principal) === event.target.value)?.principal ?? null)}
    >
      <option value="">{label} …</option>
      {choices.map(({ head, items }) => (
        <optgroup key={head} label={head}>
          {items.map(({ principal, name }) => (
            <option key={principalKey(principal)} value={principalKey(principal)}>
              {name}
            </option>
          ))}
        </optgroup>
      ))}
    </select>
  );
}
