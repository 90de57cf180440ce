-- A link of a text may be the way to get no more of them: personal, with a page of its own. Opening the page changes nothing; its one
-- press does. It is no link that was clicked: it counts apart.
ALTER TABLE link ADD COLUMN opt_out boolean NOT NULL DEFAULT false;
ALTER TABLE link ADD COLUMN language text NOT NULL DEFAULT '';
ALTER TABLE link ADD COLUMN pressed_at timestamptz;
-- the words before that link, by language; where there are none for one, those of the first
ALTER TABLE workspace ADD COLUMN opt_out_link_wording jsonb NOT NULL
  DEFAULT '{"en": "No more texts:", "fr": "Ne plus recevoir :", "es": "Baja:", "de": "Abmelden:", "it": "Basta messaggi:", "pt": "Sair:", "nl": "Afmelden:"}';
