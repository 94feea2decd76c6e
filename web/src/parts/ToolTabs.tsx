import { moveInGroup } from '../input/arrowKeys';

interface ToolTabsProps<T extends string> {
  readonly label: string;
  readonly tabs: readonly (readonly [name: T, label: string])[];
  readonly open: T;
  onOpen(name: T): void;
}

/** Groups of tools in the tray, one open at a time; arrow keys go through them. */
export function ToolTabs<T extends string>({ label, tabs, open, onOpen }: ToolTabsProps<T>) {
  return (
    <div className="tool-tabs" role="tablist" aria-label={label} onKeyDown={moveInGroup}>
      {tabs.map(([name, title]) => (
        <button
          key={name}
          type="button"
          role="tab"
          aria-selected={open === name}
          tabIndex={open === name ? 0 : -1}
          onClick={() => onOpen(name)}
        >
          {title}
        </button>
      ))}
    </div>
  );
}
