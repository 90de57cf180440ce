import { Menu, MenuItem } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, NavLink, useLocation } from 'react-router';
import { send } from '../api/client';
import { useDesk } from '../api/session';
import { money } from '../pieces/format';
import { Bell } from '../pieces/Ring';
import { chooseMode, chosenMode } from '../theme/mode';
import { BellLine } from './BellLine';

const AREAS = [
  ['/', 'Today'],
  ['/people', 'People'],
  ['/broadcasts', 'Broadcasts'],
  ['/replies', 'Replies'],
  ['/outcomes', 'Outcomes'],
  ['/setup', 'Setup'],
] as const;

/** The dark frame that carries time: brand, six areas, the practice-carrier notice, balance, person, and the bell line. */
export function Frame({ children }: { children: ReactNode }) {
  const { account, session } = useDesk();
  const client = useQueryClient();
  const { pathname } = useLocation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const choose = (mode: 'light' | 'night' | 'system') => {
    chooseMode(mode);
    setAnchor(null);
  };
  const initials = account.name
    .split(' ')
    .map((word) => word[0])
    .join('')
    .slice(0, 2);
  const down = session.carrier && session.carrier.state !== 'connected';
  return (
    <div className="app">
      <a className="visually-hidden" href="#main">
        Skip to the work
      </a>
      <header className="top">
        <Link className="brand" to="/" aria-label="Yellow Bell, Today">
          <Bell /> <span>Yellow Bell</span>
        </Link>
        <nav className="areas" aria-label="Areas">
          {AREAS.map(([path, name]) => (
            <NavLink
              key={path}
              to={path}
              end={path === '/'}
              className={({ isActive }) => (isActive || (path === '/broadcasts' && pathname.startsWith('/runs')) ? 'on' : '')}
            >
              {name}
              {name === 'Replies' && (session.replies ?? 0) > 0 && (
                <span className="count" aria-label={`${session.replies} wait`}>
                  {session.replies}
                </span>
              )}
            </NavLink>
          ))}
        </nav>
        <div className="end">
          {down && (
            <span className="notice" role="status">
              carrier not connected
            </span>
          )}
          {!down && session.carrier?.trouble && (
            <span className="notice" role="status" title="Texts wait and are tried again by themselves">
              nothing gets through: {session.carrier.trouble}
            </span>
          )}
          {session.practice && (
            <Link className="notice" to="/phones">
              <span className="hide-small">practice carrier: </span>nothing leaves
            </Link>
          )}
          <Link
            to="/setup"
            style={{ color: 'inherit', textDecoration: 'none' }}
            aria-label={`Balance ${money(session.balance_micro ?? 0)}`}
          >
            {money(session.balance_micro ?? 0)}
          </Link>
          <button
            type="button"
            className="me"
            aria-label={`${initials}, ${account.name}: look and sign out`}
            aria-haspopup="menu"
            onClick={(event) => setAnchor(event.currentTarget)}
          >
            {initials}
          </button>
          <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
            <MenuItem disabled>
              {account.name}, role “{account.role}”
            </MenuItem>
            {(['light', 'night', 'system'] as const).map((mode) => (
              <MenuItem key={mode} selected={chosenMode() === mode} onClick={() => choose(mode)}>
                {mode === 'system' ? 'As the system has it' : mode === 'light' ? 'Light' : 'Night'}
              </MenuItem>
            ))}
            <MenuItem onClick={() => void send('POST', '/api/sign-out').then(() => client.invalidateQueries())}>
              Sign out
            </MenuItem>
          </Menu>
        </div>
      </header>
      <BellLine />
      <main id="main" className="page">
        {children}
      </main>
    </div>
  );
}
