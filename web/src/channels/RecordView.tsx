// What was done with channels and keys, for the owner.
import type { AuditEntryView } from '@lantern/contract';
import { instant, sayWhen } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { HERE } from './standing';
import { PageTitle } from '../app/PageTitle';

export function RecordView() {
  const record = useQuery({ queryKey: ['audit'], queryFn: () => server.get<AuditEntryView[]>('/api/audit'), staleTime: 0 });
  return (
    <>
      <p className="small-words mb-3">
        <Link to="/channels">All channels</Link>
      </p>
      <PageTitle of="What was done with channels and keys" />
      <h1>What was done with channels and keys</h1>
      <p className="narrow">Every look at a key, every copy, every link is noted here. Nobody can change the list.</p>
      {record.error && <Notice kind="refusal">{wordsOf(record.error)}</Notice>}
      {record.data?.length === 0 && <p className="soft">Nothing yet.</p>}
      {!!record.data?.length && (
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">When</th>
              <th scope="col">Who</th>
              <th scope="col">What</th>
            </tr>
          </thead>
          <tbody>
            {record.data.map(({ at, person, words }) => (
              <tr key={`${at}${words}`}>
                <td className="text-nowrap">{sayWhen(instant(at), HERE)}</td>
                <td>{person}</td>
                <td>{words}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
