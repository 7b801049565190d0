"use client";

export interface Credentials {
  name: string;
  password: string;
  /** Of the second step; undefined until it is asked for. */
  code?: string;
}

/** The fields by which one signs in, as the browser's own keeper of passwords knows them. */
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
          onChange={(e) => onChange({ name: e.target.value, code: undefined })}
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
          onChange={(e) => onChange({ password: e.target.value, code: undefined })}
        />
      </label>
      {value.code !== undefined && (
        <label className="grid gap-1">
          <span className="text-soft">The number that your device shows, or one of your words</span>
          <input
            className="field"
            name="code"
            autoComplete="one-time-code"
            // biome-ignore lint/a11y/noAutofocus: it is what is asked for next
            autoFocus
            required
            value={value.code}
            onChange={(e) => onChange({ code: e.target.value })}
          />
        </label>
      )}
    </>
  );
}
