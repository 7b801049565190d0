/** A branch as it is offered to be chosen. */
export interface Branch {
  name: string;
  subject: string;
  at: number;
}

export function BranchField({
  label,
  name,
  value,
  onChange,
  branches,
}: {
  label: string;
  name: string;
  value: string;
  onChange: (value: string) => void;
  branches: Branch[];
}) {
  return (
    <label className="grid gap-1">
      <span className="text-soft">{label}</span>
      <select
        name={name}
        className="field font-mono text-[13px]"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      >
        <option value="">choose …</option>
        {branches.map((branch) => (
          <option key={branch.name} value={branch.name}>
            {branch.name}
          </option>
        ))}
      </select>
    </label>
  );
}
