/** A table of people: each row added, changed, left alone or refused and why; done as it was shown; taken out it reads back. */
import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { instantAt } from "../../../core/access/model/index.ts";
import { inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { foundSite } from "../accounts/founding.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { acceptInvitation } from "../inviting/accepting.ts";
import { askInKnown, endUnused } from "../inviting/inviting.ts";
import { bringTable, exportPeople, lookAtTable } from "./bringing.ts";

let keeper = "";
const document = () => inSnapshot((tx) => loadDocument(tx));
const look = (table: string, columns = {}) => lookAtTable(keeper, { table, columns });
const said = async (table: string) => (await look(table)).rows.map(({ line, outcome, says }) => `${line} ${outcome}: ${says}`);

async function bring(table: string) {
  const { preview } = await look(table);
  return bringTable(keeper, { table, columns: {}, note: "", seen: preview?.seen ?? "" });
}

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await document()).people[0]?.id ?? "";
});

const TABLE = `Name;E-Mail;Groups;Kind;Until
Kim Björk;KIM@here.invalid;Pilots|Night watch;;
"Lou ""Lo"" Ray";lou@here.invalid;pilots;guest;2031-05-01
`;

it("adds people and groups in one change, with their addresses; the same table again changes nothing; taken back it is undone", async () => {
  const first = await look(TABLE);
  expect([first.counts, first.groups]).toEqual([{ added: 2, changed: 0, same: 0, refused: 0 }, ["Pilots", "Night watch"]]);
  const { seq } = await bring(TABLE);
  const { people, groups } = await document();
  expect(people.map(({ name, kind, until }) => [name, kind, until ?? null])).toEqual(
    expect.arrayContaining([
      ["Kim Björk", "member", null],
      ['Lou "Lo" Ray', "guest", "2031-05-01T23:59:59.999Z"],
    ]),
  );
  expect(groups.map(({ name, members }) => [name, members.length])).toEqual([
    ["Pilots", 2],
    ["Night watch", 1],
  ]);
  expect((await look(TABLE)).counts).toEqual({ added: 0, changed: 0, same: 2, refused: 0 });
  expect(await status(bring(TABLE))).toBe(400);
  await takeBack(keeper, seq, { note: "", seen: (await previewTakeBack(keeper, seq)).seen });
  expect((await document()).people.filter(({ status: is }) => is === "suspended").length).toBe(2);
  expect(await said(TABLE)).toEqual([
    "2 refused: They are suspended: let them back in first.",
    "3 refused: They are suspended: let them back in first.",
  ]);
});

it("says of every row that is refused why, and brings in the others", async () => {
  const table = [
    "mail,name,kind,until,team",
    "mia@here.invalid,Mia,member,,Locks",
    "mia@here.invalid,Mia again,,,",
    ",Nobody,,,",
    "no address,Nora,,,",
    "ole@here.invalid,,,,",
    "pia@here.invalid,Pia,robot,,",
    "quin@here.invalid,Quin,guest,soon,",
    "rex@here.invalid,Rex,guest,2020-01-01,",
    "ada@here.invalid,Ada,guest,,",
    "'=cmd@here.invalid,Sam,,,",
  ].join("\n");
  expect(await said(table)).toEqual([
    "3 refused: The same address stands in line 2.",
    "4 refused: There is no mail address.",
    "5 refused: “no address” is no mail address.",
    "6 refused: There is no name.",
    "7 refused: “robot” is neither member nor guest.",
    "8 refused: “soon” is no day: write it as 2027-01-31.",
    "9 refused: Their end has passed already.",
    "10 refused: They are a member; what kind somebody is changes in their slip.",
    "2 added: member, into Locks",
    "11 added: member",
  ]);
  await bring("mail,name,team\nmia@here.invalid,Mia,Locks");
  expect(await said("mail,name,until\nMIA@here.invalid,Mia Berg,2031-01-01")).toEqual([
    "2 changed: called Mia Berg (before: Mia), until 2031-01-01",
  ]);
});

describe("a table that cannot be read", () => {
  it.each([
    ["", "no head"],
    ["a,b\n1,2", "No column holds the mail address"],
    ['mail,name\n"x@y.invalid,X', "quotation mark"],
    ["mail\n\uFFFD@y.invalid", "encoding"],
    [`mail\n${"x@y.invalid\n".repeat(20_001)}`, "at most 20000"],
  ])("%# is refused as a whole, with what to do", async (table, says) => {
    expect(await told(look(table))).toContain(says);
  });

  it.each([",", ";", "\t"])("cells are told apart by what the head has between them, however few rows there are: %j", async (between) => {
    const rows = ['"A name, with; signs"', "mail", "team"].join(between);
    const one = await look(`${rows}\n${["Uli; and, more", "uli@here.invalid", "Locks"].map((it) => `"${it}"`).join(between)}\n`, {
      name: 0,
    });
    expect(one.rows).toMatchObject([{ outcome: "added", name: "Uli; and, more", says: "member, into Locks" }]);
  });

  it("columns are matched by hand where their names say nothing, and one that is not there is refused", async () => {
    const odd = await look("Wer,Wo\nTove,tove@here.invalid", { name: 0, address: 1 });
    expect(odd.rows).toMatchObject([{ outcome: "added", name: "Tove", address: "tove@here.invalid" }]);
    expect(await told(look("Wer,Wo\nTove,tove@here.invalid", { address: 7 }))).toContain("no column 8");
  });
});

it("is taken out so that it reads back as it was, formulas disarmed", async () => {
  await bring("mail,name,team\nformula@here.invalid,=SUM(A1),+Crew");
  const csv = await (await exportPeople(keeper, { format: "csv" })).text();
  expect(csv).toContain("'=SUM(A1)");
  const { counts } = await look(csv);
  expect([counts.added, counts.changed]).toEqual([0, 0]);
  expect((await document()).people.map(({ name }) => name)).toContain("=SUM(A1)");
  expect(await status(exportPeople("nobody", { format: "csv" }))).toBe(404);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});

it("somebody who came with a table is asked in afterwards; not taking it up takes nothing from them", async () => {
  await bring("mail,name,team\nsigne@here.invalid,Signe,Locks");
  const id = (await document()).people.find(({ name }) => name === "Signe")?.id ?? "";
  expect([
    await status(askInKnown("nobody", id)),
    await status(askInKnown(keeper, "nobody")),
    await status(askInKnown(keeper, keeper)),
  ]).toEqual([404, 404, 400]);
  const first = await askInKnown(keeper, id);
  await endUnused(instantAt(Date.now() + 15 * 86_400_000));
  expect((await document()).people.find((it) => it.id === id)?.status).toBe("active");
  const tokenOf = (link: string | null) => link?.split("/").at(-1) ?? "";
  expect(await status(acceptInvitation(tokenOf(first.link), "a password of length"))).toBe(404);
  const again = await askInKnown(keeper, id);
  await acceptInvitation(tokenOf(again.link), "a password of length");
  expect(await status(askInKnown(keeper, id))).toBe(400);
});
