"use client";

export interface Credentials {
  name: string;
  password: string;
}

/** The two fields by which one signs in, as the browser's own keeper of passwords knows them. */
export function NameAndPassword({
  value,
  onChange,
}: {
  value: Credentials;
  onChange: (part: Partial<Credentials>) => void;
}) {
  return (
    <>
      <label className="grid gap-1">
        <span className="text-soft">Name</span>
        <input
          className="field"
          name="name"
          autoComplete="username"
          required
          value={value.name}
          onChange={(e) => onChange({ name: e.target.value })}
        />
      </label>
      <label className="grid gap-1">
        <span className="text-soft">Password</span>
        <input
          className="field"
          name="password"
          type="password"
          autoComplete="current-password"
          required
          value={value.password}
          onChange={(e) => onChange({ password: e.target.value })}
        />
      </label>
    </>
  );
}
