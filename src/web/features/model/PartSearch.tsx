import { Search } from 'lucide-react';
import type { ReactNode } from 'react';
import { type Filter, FILTERS } from './usePartRows.js';
import { HELP, LABELS } from './words.js';

/** What is searched for among the parts, and how many were found. */
export function PartSearch(props: {
  search: string;
  onSearch(search: string): void;
  filter: Filter;
  onFilter(filter: Filter): void;
  found: number;
}): ReactNode {
  const { search, onSearch, filter, onFilter, found } = props;
  return (
    <label className="flex items-center gap-2 border-b border-rule px-4 py-2">
      <Search size={16} aria-hidden className="text-graphite" />
      <input
        aria-label={LABELS.searchParts}
        title={HELP.searchParts}
        className="w-full bg-transparent"
        placeholder={LABELS.searchParts}
        value={search}
        onChange={(e) => onSearch(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <select
        aria-label={LABELS.show}
        title={HELP.show}
        className="max-w-28 bg-transparent text-xs text-graphite"
        value={filter}
        onChange={(e) => onFilter(e.target.value as Filter)}
      >
        {Object.entries(FILTERS).map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      <span className="num text-sm text-graphite">{found}</span>
    </label>
  );
}
