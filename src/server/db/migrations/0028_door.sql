-- What the cookie of a device that has signed in before is signed with; made at the first start.
ALTER TABLE workspace ADD COLUMN device_secret text NOT NULL DEFAULT '';
