import type { ReactNode } from "react";
import { Tab, TabList, TabPanel, Tabs as Parts } from "react-aria-components";

/** Two or more ways to see one thing. The arrow keys move among them; what is disabled says why elsewhere. */
export function Tabs<T extends string>(props: {
  label: string;
  chosen: T;
  choose: (tab: T) => void;
  of: readonly { tab: T; title: ReactNode; disabled?: boolean }[];
  children: ReactNode;
}) {
  const { label, chosen, choose, of, children } = props;
  return (
    <Parts selectedKey={chosen} onSelectionChange={(key) => choose(key as T)}>
      <TabList aria-label={label} className="tabs">
        {of.map((t) => (
          <Tab key={t.tab} id={t.tab} isDisabled={t.disabled} className="tab">
            {t.title}
          </Tab>
        ))}
      </TabList>
      <TabPanel id={chosen}>{children}</TabPanel>
    </Parts>
  );
}
