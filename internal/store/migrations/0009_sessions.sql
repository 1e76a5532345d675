-- Where somebody is signed in, so that they can tell their sessions apart.
ALTER TABLE sign_ins ADD COLUMN address text NOT NULL DEFAULT '';
ALTER TABLE sign_ins ADD COLUMN browser text NOT NULL DEFAULT '';
