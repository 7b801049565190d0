import { notFound } from "next/navigation";
import { findPerson, shareRepository } from "@/server/access/people";
import { portraitOf } from "@/server/access/portraits";
import { desk } from "@/server/changes/desk";
import { OwnPortrait } from "@/ui/access/own-portrait";
import { TopBar } from "@/ui/frame/top-bar";
import { ChangeList } from "@/ui/lists/change-list";
import { PersonMark } from "@/ui/parts/person-mark";
import { visitor } from "../../visitor";

/** Who someone is, and what they have open where the visitor may look. */
export default async function Page({ params }: { params: Promise<{ name: string }> }) {
  const { name } = await params;
  const { app, person, me } = await visitor(`/people/${name}`);
  const shown = await findPerson(app.db, name);
  if (!shown || !(await shareRepository(app, person, shown))) notFound();
  const portrait = await portraitOf(app, shown);
  const { forMe, forThem, couldBe, elsewhere } = await desk(app, person, { author: shown.id });
  const theirs = [...forMe, ...forThem, ...couldBe, ...elsewhere].filter(({ authorId }) => authorId === shown.id);
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: shown.fullName }]} />
      <main className="mx-auto max-w-5xl px-6 py-8">
        <h1 className="flex items-center gap-3 font-serif text-2xl font-semibold">
          <PersonMark name={shown.fullName} portrait={portrait} size={34} said={false} /> {shown.fullName}
        </h1>
        <p className="mt-1 text-soft">
          {shown.name}
          {shown.machine && " · a program’s account"}
        </p>
        {shown.id === person.id && <OwnPortrait name={shown.fullName} initial={portrait} />}
        <ChangeList
          title="Open change sets"
          all={null}
          about="Offered by them, and not settled."
          lines={theirs}
          empty="Nothing open where you may look."
        />
      </main>
    </>
  );
}
