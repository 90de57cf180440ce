import { Divider, IconButton, Menu, MenuItem, Tooltip } from '@mui/material';
import Search from '@mui/icons-material/Search';
import { styled } from '@mui/material/styles';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, NavLink, useLocation, useNavigate } from 'react-router';
import { session as sessionApi } from '../../core/api/session';
import { useAway } from '../api/away';
import { ask } from '../api/client';
import { useDesk } from '../api/session';
import { money } from '../pieces/format';
import { THUMB } from '../theme/touch';
import { Skips } from './Skip';
import { Bit } from '../pieces/layout';
import { Bell } from '../pieces/chart/Ring';
import { Pressed } from '../pieces/ways';
import { chooseMode, chosenMode } from '../theme/mode';
import { AREAS } from './areas';
import { Areas, Brand, Main, Notice, Page, Top, TopEnd, Waits } from './bars';
import { BellLine } from './BellLine';
import { Shortcuts } from './Shortcuts';

const Me = styled(Pressed)(({ theme }) => ({
  border: `1px solid ${theme.bell.frameSoft}`,
  borderRadius: 20,
  width: 28,
  height: 28,
  fontSize: 12.5,
  color: theme.bell.onFrame,
  justifyContent: 'center',
  [theme.breakpoints.down('md')]: { width: THUMB, height: THUMB, borderRadius: THUMB / 2 },
}));
const Find = styled(IconButton)(({ theme }) => ({
  color: theme.bell.frameSoft,
  '&:hover': { color: theme.bell.onFrame },
}));

/** The dark frame that carries time: brand, six areas, the practice-carrier notice, balance, person, and the bell line. `stale`: nothing new is heard. */
export function Frame({ stale = false, children }: { stale?: boolean; children: ReactNode }) {
  const { account, session } = useDesk();
  const away = useAway();
  const client = useQueryClient();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [palette, setPalette] = useState(false);
  const [help, setHelp] = useState(false);
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
  const balance = money(session.balance_micro ?? 0);
  return (
    <Page>
      <Skips />
      <Top>
        <Brand to="/" aria-label="Yellow Bell, Today">
          <Bell /> <span>Yellow Bell</span>
        </Brand>
        <Areas aria-label="Areas">
          {AREAS.map(({ path, name }) => (
            <NavLink
              key={path}
              to={path}
              end={path === '/'}
              className={({ isActive }) => (isActive || (path === '/broadcasts' && pathname.startsWith('/runs')) ? 'on' : '')}
            >
              {name}
              {name === 'Replies' && (session.replies ?? 0) > 0 && (
                <Waits aria-label={`${session.replies} wait`}>{session.replies}</Waits>
              )}
            </NavLink>
          ))}
        </Areas>
        <TopEnd>
          {away && (
            <Tooltip title="Nothing is lost. It is tried again by itself; texts wait meanwhile.">
              <Notice role="status">the database cannot be reached</Notice>
            </Tooltip>
          )}
          {!away && stale && (
            <Tooltip title="The server is not heard just now. It is tried again by itself; then all of this page is asked anew.">
              <Notice role="status">what you see may be old</Notice>
            </Tooltip>
          )}
          {!away && down && <Notice role="status">carrier not connected</Notice>}
          {!down && session.carrier?.trouble && (
            <Tooltip title="Texts wait and are tried again by themselves">
              <Notice role="status">nothing gets through: {session.carrier.trouble}</Notice>
            </Tooltip>
          )}
          {session.practice && (
            <Link to="/phones">
              <Notice>
                <Bit wideOnly>practice carrier: </Bit>nothing leaves
              </Notice>
            </Link>
          )}
          <Link to="/setup/balance" aria-label={`Balance ${balance}`}>
            {balance}
          </Link>
          <Tooltip title="Go to a person, list, broadcast, run or setting (Ctrl K)">
            <Find aria-label="Go to" onClick={() => setPalette(true)}>
              <Search fontSize="small" />
            </Find>
          </Tooltip>
          <Me
            aria-label={`${initials}, ${account.name}: look and sign out`}
            aria-haspopup="menu"
            onClick={(event) => setAnchor(event.currentTarget)}
          >
            {initials}
          </Me>
          <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
            <MenuItem disabled>
              {account.name}, role “{account.role}”
            </MenuItem>
            <MenuItem
              onClick={() => {
                setAnchor(null);
                void navigate('/setup/account');
              }}
            >
              Your account
            </MenuItem>
            <MenuItem
              onClick={() => {
                setAnchor(null);
                setHelp(true);
              }}
            >
              Shortcuts and help
            </MenuItem>
            <Divider />
            {(['light', 'night', 'system'] as const).map((mode) => (
              <MenuItem key={mode} selected={chosenMode() === mode} onClick={() => choose(mode)}>
                {mode === 'system' ? 'As the system has it' : mode === 'light' ? 'Light' : 'Night'}
              </MenuItem>
            ))}
            <Divider />
            <MenuItem onClick={() => void ask(sessionApi.signOut, {}).then(() => client.invalidateQueries())}>Sign out</MenuItem>
          </Menu>
        </TopEnd>
      </Top>
      <BellLine />
      <Main id="main">{children}</Main>
      <Shortcuts palette={palette} setPalette={setPalette} help={help} setHelp={setHelp} />
    </Page>
  );
}
