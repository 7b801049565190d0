/** The harbour office. All of them are made up. */
export const PEOPLE = [
  { name: "rosa", fullName: "Rosa Vance", about: "harbour master’s deputy, reviewer", keeper: false },
  { name: "anders", fullName: "Anders Lindqvist", about: "berth planning, author", keeper: false },
  { name: "sunday", fullName: "Sunday Okoro", about: "tariffs and tides", keeper: false },
  { name: "mirela", fullName: "Mirela Dobrev", about: "keeper of the repositories", keeper: true },
  { name: "pim", fullName: "Pim de Groot", about: "trainee, reads along", keeper: false },
] as const;

export type PersonName = (typeof PEOPLE)[number]["name"];

export const PASSWORD = "harbour-demo";

export function writer(name: PersonName) {
  const person = PEOPLE.find((candidate) => candidate.name === name)!;
  return { fullName: person.fullName, email: `${name}@harbour.example` };
}
