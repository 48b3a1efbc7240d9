SET statement_timeout = 0;
SET lock_timeout = 0;
SET idle_in_transaction_session_timeout = 0;
SET client_encoding = 'UTF8';
SET standard_conforming_strings = on;
SELECT pg_catalog.set_config('search_path', '', false);
SET check_function_bodies = false;
SET xmloption = content;
SET client_min_messages = warning;
SET row_security = off;
CREATE SCHEMA drizzle;
SET default_tablespace = '';
SET default_table_access_method = heap;
CREATE TABLE drizzle.__drizzle_migrations (
    id integer NOT NULL,
    hash text NOT NULL,
    created_at bigint
);
CREATE SEQUENCE drizzle.__drizzle_migrations_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE drizzle.__drizzle_migrations_id_seq OWNED BY drizzle.__drizzle_migrations.id;
CREATE TABLE public.access_classes (
    id integer NOT NULL,
    key text NOT NULL
);
ALTER TABLE public.access_classes ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.access_classes_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);
CREATE TABLE public.account (
    id text NOT NULL,
    account_id text NOT NULL,
    provider_id text NOT NULL,
    user_id text NOT NULL,
    access_token text,
    refresh_token text,
    id_token text,
    access_token_expires_at timestamp without time zone,
    refresh_token_expires_at timestamp without time zone,
    scope text,
    password text,
    created_at timestamp without time zone DEFAULT now() NOT NULL,
    updated_at timestamp without time zone DEFAULT now() NOT NULL
);
CREATE TABLE public.buffers (
    place_id text NOT NULL,
    person_id text NOT NULL,
    title text NOT NULL,
    body jsonb NOT NULL,
    base text NOT NULL,
    at timestamp(3) with time zone NOT NULL,
    tab text DEFAULT 'before'::text NOT NULL,
    rev bigint DEFAULT 0 NOT NULL
);
CREATE TABLE public.ceilings (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    place_id text NOT NULL,
    ceilings jsonb NOT NULL
);
CREATE SEQUENCE public.ceilings_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.ceilings_row_id_seq OWNED BY public.ceilings.row_id;
CREATE TABLE public.demo_cast (
    person_id text NOT NULL,
    role text NOT NULL,
    email text NOT NULL,
    password text NOT NULL,
    "position" integer NOT NULL
);
CREATE TABLE public.fences (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    place_id text NOT NULL,
    kind text NOT NULL,
    admits jsonb NOT NULL
);
CREATE SEQUENCE public.fences_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.fences_row_id_seq OWNED BY public.fences.row_id;
CREATE TABLE public.grants (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    place_id text NOT NULL,
    "to" jsonb NOT NULL,
    abilities integer NOT NULL,
    until timestamp(3) with time zone,
    draft boolean NOT NULL
);
CREATE SEQUENCE public.grants_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.grants_row_id_seq OWNED BY public.grants.row_id;
CREATE TABLE public.groups (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    id text NOT NULL,
    name text NOT NULL
);
CREATE SEQUENCE public.groups_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.groups_row_id_seq OWNED BY public.groups.row_id;
CREATE TABLE public.ledger (
    seq bigint NOT NULL,
    at timestamp(3) with time zone NOT NULL,
    maker text,
    act text NOT NULL,
    places text[] NOT NULL,
    edits jsonb NOT NULL,
    detail jsonb NOT NULL,
    ripple jsonb,
    note text DEFAULT ''::text NOT NULL,
    touches_access boolean NOT NULL,
    stepping_in boolean DEFAULT false NOT NULL,
    takes_back bigint,
    previous_hash text NOT NULL,
    hash text NOT NULL
);
CREATE TABLE public.listing (
    place_id text NOT NULL,
    class_id integer NOT NULL,
    space_id text,
    kind text NOT NULL,
    state text NOT NULL,
    title text NOT NULL,
    body text DEFAULT ''::text NOT NULL,
    changed_at timestamp(3) with time zone NOT NULL,
    title_words tsvector GENERATED ALWAYS AS (to_tsvector('simple'::regconfig, title)) STORED,
    words tsvector GENERATED ALWAYS AS ((setweight(to_tsvector('simple'::regconfig, title), 'A'::"char") || setweight(to_tsvector('simple'::regconfig, body), 'B'::"char"))) STORED
);
CREATE TABLE public.memberships (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    group_id text NOT NULL,
    member_kind text NOT NULL,
    member_id text NOT NULL
);
CREATE SEQUENCE public.memberships_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.memberships_row_id_seq OWNED BY public.memberships.row_id;
CREATE TABLE public.pages (
    place_id text NOT NULL,
    "position" integer NOT NULL,
    started_at timestamp(3) with time zone NOT NULL,
    live_major integer,
    published_at timestamp(3) with time zone,
    due_at timestamp(3) with time zone,
    scheduled_by text,
    due_problem text,
    changed_at timestamp(3) with time zone NOT NULL
);
CREATE TABLE public.passes (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    id text NOT NULL,
    place_id text NOT NULL,
    below boolean NOT NULL,
    until timestamp(3) with time zone,
    revoked boolean NOT NULL
);
CREATE SEQUENCE public.passes_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.passes_row_id_seq OWNED BY public.passes.row_id;
CREATE TABLE public.people (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    id text NOT NULL,
    name text NOT NULL,
    kind text NOT NULL,
    status text NOT NULL
);
CREATE SEQUENCE public.people_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.people_row_id_seq OWNED BY public.people.row_id;
CREATE TABLE public.places (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    id text NOT NULL,
    kind text NOT NULL,
    parent_id text,
    title text NOT NULL,
    state text NOT NULL,
    was text,
    stance text NOT NULL,
    owner_id text,
    tags text[] NOT NULL
);
CREATE SEQUENCE public.places_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.places_row_id_seq OWNED BY public.places.row_id;
CREATE TABLE public.pledges (
    row_id bigint NOT NULL,
    from_seq bigint NOT NULL,
    to_seq bigint,
    id text NOT NULL,
    pledge jsonb NOT NULL
);
CREATE SEQUENCE public.pledges_row_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;
ALTER SEQUENCE public.pledges_row_id_seq OWNED BY public.pledges.row_id;
CREATE TABLE public.rate_limit (
    id text NOT NULL,
    key text NOT NULL,
    count integer NOT NULL,
    last_request bigint NOT NULL
);
CREATE TABLE public.session (
    id text NOT NULL,
    expires_at timestamp without time zone NOT NULL,
    token text NOT NULL,
    created_at timestamp without time zone DEFAULT now() NOT NULL,
    updated_at timestamp without time zone DEFAULT now() NOT NULL,
    ip_address text,
    user_agent text,
    user_id text NOT NULL
);
CREATE TABLE public.spaces (
    place_id text NOT NULL,
    slug text NOT NULL,
    purpose text NOT NULL,
    landing_id text,
    "position" integer NOT NULL
);
CREATE TABLE public.step_ins (
    seq bigint NOT NULL,
    person_id text NOT NULL,
    place_id text NOT NULL,
    until timestamp(3) with time zone NOT NULL
);
CREATE TABLE public.tokens (
    id text NOT NULL,
    name text NOT NULL,
    hash text NOT NULL,
    scopes text[] NOT NULL,
    made_by text NOT NULL,
    made_at timestamp(3) with time zone NOT NULL,
    until timestamp(3) with time zone,
    used_at timestamp(3) with time zone,
    withdrawn_at timestamp(3) with time zone
);
CREATE TABLE public."user" (
    id text NOT NULL,
    name text NOT NULL,
    email text NOT NULL,
    email_verified boolean DEFAULT false NOT NULL,
    image text,
    created_at timestamp without time zone DEFAULT now() NOT NULL,
    updated_at timestamp without time zone DEFAULT now() NOT NULL
);
CREATE TABLE public.verification (
    id text NOT NULL,
    identifier text NOT NULL,
    value text NOT NULL,
    expires_at timestamp without time zone NOT NULL,
    created_at timestamp without time zone DEFAULT now() NOT NULL,
    updated_at timestamp without time zone DEFAULT now() NOT NULL
);
CREATE TABLE public.versions (
    place_id text NOT NULL,
    major integer NOT NULL,
    minor integer NOT NULL,
    seq bigint NOT NULL,
    title text NOT NULL,
    body jsonb NOT NULL,
    author_id text,
    at timestamp(3) with time zone NOT NULL,
    note text DEFAULT ''::text NOT NULL
);
CREATE TABLE public.view_counts (
    place_id text NOT NULL,
    day date NOT NULL,
    reader text NOT NULL,
    views integer NOT NULL
);
ALTER TABLE ONLY drizzle.__drizzle_migrations ALTER COLUMN id SET DEFAULT nextval('drizzle.__drizzle_migrations_id_seq'::regclass);
ALTER TABLE ONLY public.ceilings ALTER COLUMN row_id SET DEFAULT nextval('public.ceilings_row_id_seq'::regclass);
ALTER TABLE ONLY public.fences ALTER COLUMN row_id SET DEFAULT nextval('public.fences_row_id_seq'::regclass);
ALTER TABLE ONLY public.grants ALTER COLUMN row_id SET DEFAULT nextval('public.grants_row_id_seq'::regclass);
ALTER TABLE ONLY public.groups ALTER COLUMN row_id SET DEFAULT nextval('public.groups_row_id_seq'::regclass);
ALTER TABLE ONLY public.memberships ALTER COLUMN row_id SET DEFAULT nextval('public.memberships_row_id_seq'::regclass);
ALTER TABLE ONLY public.passes ALTER COLUMN row_id SET DEFAULT nextval('public.passes_row_id_seq'::regclass);
ALTER TABLE ONLY public.people ALTER COLUMN row_id SET DEFAULT nextval('public.people_row_id_seq'::regclass);
ALTER TABLE ONLY public.places ALTER COLUMN row_id SET DEFAULT nextval('public.places_row_id_seq'::regclass);
ALTER TABLE ONLY public.pledges ALTER COLUMN row_id SET DEFAULT nextval('public.pledges_row_id_seq'::regclass);
INSERT INTO drizzle.__drizzle_migrations VALUES (1, '34a69e7264dc9440206d660ff1564b126177821c27e9bbeb1b601e004efa98c6', 1795446041512);
INSERT INTO drizzle.__drizzle_migrations VALUES (2, '6a434cef6244766e0ac3df50d49e01edff107b63a5ba7c85299713939cb4ffc8', 1795455388493);
INSERT INTO drizzle.__drizzle_migrations VALUES (3, 'e6a3d3ac2061be952945c407f1d00e2a47f10fef030a2c01d9ae2e9f96d6f6ea', 1795602527925);
INSERT INTO public.access_classes OVERRIDING SYSTEM VALUE VALUES (1, '|site|0');
INSERT INTO public.access_classes OVERRIDING SYSTEM VALUE VALUES (2, 'lamps|lamps|0');
INSERT INTO public.access_classes OVERRIDING SYSTEM VALUE VALUES (3, 'lamps|lamps|3');
INSERT INTO public.access_classes OVERRIDING SYSTEM VALUE VALUES (4, 'lamps|8efb7zt4vv|0');
INSERT INTO public.account VALUES ('credential-hzkcuprdhc', 'hzkcuprdhc', 'credential', 'hzkcuprdhc', NULL, NULL, NULL, NULL, NULL, NULL, '6ee0efdd123f7e8055518c84294908c7:f92b919eb38a2f3dfe783433644fc5bb4aac00c36e28c578d64969f0cee44df4ea97413b3e0c7a5f1449e36942b85f38a84f11bb797c53ae378bbdd7545febee', '2026-11-25 13:28:57.678334', '2026-11-25 13:28:57.678334');
INSERT INTO public.ceilings VALUES (1, 1, NULL, 'site', '{"guests": ["read", "discuss", "revise", "add"], "passes": true, "outsiders": ["read"]}');
INSERT INTO public.grants VALUES (1, 1, NULL, 'site', '{"person": "hzkcuprdhc"}', 511, NULL, false);
INSERT INTO public.grants VALUES (2, 2, NULL, 'lamps', '{"audience": "public"}', 1, NULL, false);
INSERT INTO public.grants VALUES (3, 12, 13, '8efb7zt4vv', '{"group": "crew"}', 15, NULL, false);
INSERT INTO public.groups VALUES (1, 3, NULL, 'crew', 'The crew');
INSERT INTO public.ledger VALUES (1, '2026-11-25 13:28:57.681+00', NULL, 'found', '{site}', '[]', '{}', NULL, 'The site was founded.', true, false, NULL, '', '680e31ea534a2fa9788421fd26fe6c541e6a63ac9112810cb51eaec29d368f9d');
INSERT INTO public.ledger VALUES (2, '2026-11-25 13:28:57.681+00', NULL, 'found', '{lamps}', '[]', '{}', NULL, 'A space.', true, false, NULL, '680e31ea534a2fa9788421fd26fe6c541e6a63ac9112810cb51eaec29d368f9d', 'cff82062e22f2babd6574c53b3b7dad0697e22663472c14e18db27da37feb3eb');
INSERT INTO public.ledger VALUES (3, '2026-11-25 13:28:57.744+00', 'hzkcuprdhc', 'rules', '{}', '[{"put": {"id": "ben", "kind": "member", "name": "Ben Before", "status": "active"}, "kind": "person", "person": "ben"}, {"put": {"id": "crew", "name": "The crew"}, "kind": "group", "group": "crew"}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [{"after": ["read"], "class": "members", "gains": ["read"], "before": [], "losses": [], "places": ["lamps"], "subjects": ["person:ben"], "oversight": "same"}], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'People come.', true, false, NULL, 'cff82062e22f2babd6574c53b3b7dad0697e22663472c14e18db27da37feb3eb', '48326c089dc3d1b8f3e96b0b78bfcc9b03b29b7d9d42c69f29786efed3412b87');
INSERT INTO public.ledger VALUES (4, '2026-11-25 13:28:57.774+00', 'hzkcuprdhc', 'rules', '{}', '[{"put": {"person": "ben"}, "kind": "member", "group": "crew"}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [], "pledges": {"mend": [], "break": []}, "closedToAll": []}', '', true, false, NULL, '48326c089dc3d1b8f3e96b0b78bfcc9b03b29b7d9d42c69f29786efed3412b87', '287b86041d57e1048fcb587c58caa848eb50911016b72a40a0e12ed26ee73e1b');
INSERT INTO public.ledger VALUES (5, '2026-11-25 13:28:57.785+00', 'hzkcuprdhc', 'rules', '{}', '[{"put": {"id": "ben", "kind": "member", "name": "Ben Married", "status": "active"}, "kind": "person", "person": "ben", "remove": {"id": "ben", "kind": "member", "name": "Ben Before", "status": "active"}}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'A new name.', true, false, NULL, '287b86041d57e1048fcb587c58caa848eb50911016b72a40a0e12ed26ee73e1b', '63436a83d30f6ee72425e0b4b89895c6cda9bf29f47c82c4d6bff8d1b3048594');
INSERT INTO public.ledger VALUES (6, '2026-11-25 13:28:57.796+00', 'hzkcuprdhc', 'rules', '{}', '[{"put": {"id": "quiet", "who": {"class": "outsiders"}, "why": "We promised the neighbours.", "rule": "never", "where": {"space": "lamps"}, "ability": "discuss"}, "kind": "pledge", "pledge": "quiet"}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'Promised.', true, false, NULL, '63436a83d30f6ee72425e0b4b89895c6cda9bf29f47c82c4d6bff8d1b3048594', 'd62b78f2be82c38831bc5499df625d8f9b59aa4c56c2f49de85192747993e9c8');
INSERT INTO public.ledger VALUES (7, '2026-11-25 13:28:57.841+00', 'hzkcuprdhc', 'start', '{8efb7zt4vv}', '[{"as": "page", "kind": "start", "owner": "hzkcuprdhc", "place": "8efb7zt4vv", "parent": "lamps"}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [{"after": ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit", "govern"], "class": "members", "gains": ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit", "govern"], "before": [], "losses": [], "places": ["8efb7zt4vv"], "subjects": ["person:hzkcuprdhc"], "oversight": "gained"}], "pledges": {"mend": [], "break": []}, "closedToAll": []}', '', true, false, NULL, 'd62b78f2be82c38831bc5499df625d8f9b59aa4c56c2f49de85192747993e9c8', '1ca923c80a6d9b3c36c0926d16bc9ff104113edaea125dc8a15d1cac250dfc57');
INSERT INTO public.ledger VALUES (8, '2026-11-25 13:28:57.884+00', 'hzkcuprdhc', 'save', '{8efb7zt4vv}', '[]', '{"version": "0.2"}', NULL, 'Noon, as agreed.', true, false, NULL, '1ca923c80a6d9b3c36c0926d16bc9ff104113edaea125dc8a15d1cac250dfc57', 'f86cc49cbf609e5a57318c11fc4b8f4559d7fae74f8a801eeaf7db6d8ae6c43c');
INSERT INTO public.ledger VALUES (9, '2026-11-25 13:28:57.911+00', 'hzkcuprdhc', 'publish', '{8efb7zt4vv}', '[{"to": {"state": "live"}, "from": {"state": "draft"}, "kind": "state", "place": "8efb7zt4vv"}]', '{"version": "1.0"}', '{"passes": {"stop": [], "start": []}, "entries": [{"after": ["read"], "class": "outsiders", "gains": ["read"], "before": [], "losses": [], "places": ["8efb7zt4vv"], "subjects": ["public"], "oversight": "same"}, {"after": ["read"], "class": "members", "gains": ["read"], "before": [], "losses": [], "places": ["8efb7zt4vv"], "subjects": ["person:ben"], "oversight": "same"}], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'First.', true, false, NULL, 'f86cc49cbf609e5a57318c11fc4b8f4559d7fae74f8a801eeaf7db6d8ae6c43c', '48234a32b952b2ba908959d6119d7d6eca8bece5b3af14bd2f4d76bf86480b53');
INSERT INTO public.ledger VALUES (10, '2026-11-25 13:28:57.931+00', 'hzkcuprdhc', 'start', '{6avgdhhccy}', '[{"as": "page", "kind": "start", "owner": "hzkcuprdhc", "place": "6avgdhhccy", "parent": "lamps"}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [{"after": ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit", "govern"], "class": "members", "gains": ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit", "govern"], "before": [], "losses": [], "places": ["6avgdhhccy"], "subjects": ["person:hzkcuprdhc"], "oversight": "gained"}], "pledges": {"mend": [], "break": []}, "closedToAll": []}', '', true, false, NULL, '48234a32b952b2ba908959d6119d7d6eca8bece5b3af14bd2f4d76bf86480b53', '3a410957c4beac1d7099b5e6b9a4e03558cba9cab701eb4ea533268e9b1a8ac5');
INSERT INTO public.ledger VALUES (11, '2026-11-25 13:28:57.948+00', 'hzkcuprdhc', 'schedule', '{6avgdhhccy}', '[{"to": {"state": "scheduled"}, "from": {"state": "draft"}, "kind": "state", "place": "6avgdhhccy"}]', '{"at": "2027-09-21T13:28:57.947Z"}', '{"passes": {"stop": [], "start": []}, "entries": [], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'With the new year.', true, false, NULL, '3a410957c4beac1d7099b5e6b9a4e03558cba9cab701eb4ea533268e9b1a8ac5', '6ae1b95100501bcdea25a0ff48866a8215842e3ba8eba1359662313b1e429e8f');
INSERT INTO public.ledger VALUES (12, '2026-11-25 13:28:57.963+00', 'hzkcuprdhc', 'rules', '{8efb7zt4vv}', '[{"put": {"to": {"group": "crew"}, "abilities": ["read", "discuss", "revise", "add"]}, "kind": "grant", "place": "8efb7zt4vv"}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [{"after": ["read", "discuss", "revise", "add"], "class": "members", "gains": ["discuss", "revise", "add"], "before": ["read"], "losses": [], "places": ["8efb7zt4vv"], "subjects": ["person:ben"], "oversight": "same"}], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'The crew writes.', true, false, NULL, '6ae1b95100501bcdea25a0ff48866a8215842e3ba8eba1359662313b1e429e8f', '4ded22b4d7e322576bf2681be7d0addbde039239da2518caa9103849dca2a161');
INSERT INTO public.ledger VALUES (13, '2026-11-25 13:28:57.988+00', 'hzkcuprdhc', 'takeBack', '{8efb7zt4vv}', '[{"kind": "grant", "place": "8efb7zt4vv", "remove": {"to": {"group": "crew"}, "abilities": ["read", "discuss", "revise", "add"]}}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [{"after": ["read"], "class": "members", "gains": [], "before": ["read", "discuss", "revise", "add"], "losses": ["discuss", "revise", "add"], "places": ["8efb7zt4vv"], "subjects": ["person:ben"], "oversight": "same"}], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'Not yet.', true, false, 12, '4ded22b4d7e322576bf2681be7d0addbde039239da2518caa9103849dca2a161', '65245b51368c3fdd2349cb201fb94193a44f4b7e3972a73006502b4cc18701bd');
INSERT INTO public.ledger VALUES (14, '2026-11-25 13:28:57.997+00', 'hzkcuprdhc', 'rules', '{}', '[{"put": {"id": "ben", "kind": "member", "name": "Ben Married", "status": "suspended"}, "kind": "person", "person": "ben", "remove": {"id": "ben", "kind": "member", "name": "Ben Married", "status": "active"}}]', '{}', '{"passes": {"stop": [], "start": []}, "entries": [{"after": [], "class": "members", "gains": [], "before": ["read"], "losses": ["read"], "places": ["lamps", "8efb7zt4vv"], "subjects": ["person:ben"], "oversight": "same"}], "pledges": {"mend": [], "break": []}, "closedToAll": []}', 'On leave.', true, false, NULL, '65245b51368c3fdd2349cb201fb94193a44f4b7e3972a73006502b4cc18701bd', 'd6b598b6992cc5b97169db5f93dd8f5a02c340d188e19eb6634a00d7417a38d9');
INSERT INTO public.listing VALUES ('site', 1, NULL, 'site', 'live', 'The site', '', '2026-11-25 13:28:57.681+00', DEFAULT, DEFAULT);
INSERT INTO public.listing VALUES ('lamps', 2, 'lamps', 'space', 'live', 'Lamps', '', '2026-11-25 13:28:57.681+00', DEFAULT, DEFAULT);
INSERT INTO public.listing VALUES ('6avgdhhccy', 3, 'lamps', 'page', 'scheduled', 'Oil', 'Whale oil is out.', '2026-11-25 13:28:57.931+00', DEFAULT, DEFAULT);
INSERT INTO public.listing VALUES ('8efb7zt4vv', 2, 'lamps', 'page', 'live', 'Wicks', 'Trim them daily, at noon.', '2026-11-25 13:28:57.911+00', DEFAULT, DEFAULT);
INSERT INTO public.memberships VALUES (1, 4, NULL, 'crew', 'person', 'ben');
INSERT INTO public.pages VALUES ('8efb7zt4vv', 1, '2026-11-25 13:28:57.841+00', 1, '2026-11-25 13:28:57.911+00', NULL, NULL, NULL, '2026-11-25 13:28:57.911+00');
INSERT INTO public.pages VALUES ('6avgdhhccy', 2, '2026-11-25 13:28:57.931+00', NULL, NULL, '2027-09-21 13:28:57.947+00', 'hzkcuprdhc', NULL, '2026-11-25 13:28:57.931+00');
INSERT INTO public.people VALUES (1, 1, NULL, 'hzkcuprdhc', 'Ada Keeper', 'member', 'active');
INSERT INTO public.people VALUES (2, 3, 5, 'ben', 'Ben Before', 'member', 'active');
INSERT INTO public.people VALUES (3, 5, 14, 'ben', 'Ben Married', 'member', 'active');
INSERT INTO public.people VALUES (4, 14, NULL, 'ben', 'Ben Married', 'member', 'suspended');
INSERT INTO public.places VALUES (1, 1, NULL, 'site', 'site', NULL, 'The site', 'live', NULL, 'follow', NULL, '{}');
INSERT INTO public.places VALUES (2, 2, NULL, 'lamps', 'space', 'site', 'Lamps', 'live', NULL, 'follow', NULL, '{}');
INSERT INTO public.places VALUES (3, 7, 9, '8efb7zt4vv', 'page', 'lamps', 'Wicks', 'draft', NULL, 'follow', 'hzkcuprdhc', '{}');
INSERT INTO public.places VALUES (4, 9, NULL, '8efb7zt4vv', 'page', 'lamps', 'Wicks', 'live', NULL, 'follow', 'hzkcuprdhc', '{}');
INSERT INTO public.places VALUES (5, 10, 11, '6avgdhhccy', 'page', 'lamps', 'Oil', 'draft', NULL, 'follow', 'hzkcuprdhc', '{}');
INSERT INTO public.places VALUES (6, 11, NULL, '6avgdhhccy', 'page', 'lamps', 'Oil', 'scheduled', NULL, 'follow', 'hzkcuprdhc', '{}');
INSERT INTO public.pledges VALUES (1, 6, NULL, 'quiet', '{"id": "quiet", "who": {"class": "outsiders"}, "why": "We promised the neighbours.", "rule": "never", "where": {"space": "lamps"}, "ability": "discuss"}');
INSERT INTO public.spaces VALUES ('lamps', 'lamps', 'All lamps.', NULL, 1);
INSERT INTO public."user" VALUES ('hzkcuprdhc', 'Ada Keeper', 'ada@before.invalid', true, NULL, '2026-11-25 13:28:57.678334', '2026-11-25 13:28:57.678334');
INSERT INTO public.versions VALUES ('8efb7zt4vv', 0, 1, 7, 'Wicks', '{"schema": 1, "content": [{"type": "paragraph", "attrs": {"id": "m1"}, "content": [{"text": "Trim them daily.", "type": "text"}]}]}', 'hzkcuprdhc', '2026-11-25 13:28:57.841+00', '');
INSERT INTO public.versions VALUES ('8efb7zt4vv', 0, 2, 8, 'Wicks', '{"schema": 1, "content": [{"type": "paragraph", "attrs": {"id": "m1"}, "content": [{"text": "Trim them daily, at noon.", "type": "text"}]}]}', 'hzkcuprdhc', '2026-11-25 13:28:57.884+00', 'Noon, as agreed.');
INSERT INTO public.versions VALUES ('8efb7zt4vv', 1, 0, 9, 'Wicks', '{"schema": 1, "content": [{"type": "paragraph", "attrs": {"id": "m1"}, "content": [{"text": "Trim them daily, at noon.", "type": "text"}]}]}', 'hzkcuprdhc', '2026-11-25 13:28:57.911+00', 'First.');
INSERT INTO public.versions VALUES ('6avgdhhccy', 0, 1, 10, 'Oil', '{"schema": 1, "content": [{"type": "paragraph", "attrs": {"id": "m1"}, "content": [{"text": "Whale oil is out.", "type": "text"}]}]}', 'hzkcuprdhc', '2026-11-25 13:28:57.931+00', '');
SELECT pg_catalog.setval('drizzle.__drizzle_migrations_id_seq', 3, true);
SELECT pg_catalog.setval('public.access_classes_id_seq', 4, true);
SELECT pg_catalog.setval('public.ceilings_row_id_seq', 1, true);
SELECT pg_catalog.setval('public.fences_row_id_seq', 1, false);
SELECT pg_catalog.setval('public.grants_row_id_seq', 3, true);
SELECT pg_catalog.setval('public.groups_row_id_seq', 1, true);
SELECT pg_catalog.setval('public.memberships_row_id_seq', 1, true);
SELECT pg_catalog.setval('public.passes_row_id_seq', 1, false);
SELECT pg_catalog.setval('public.people_row_id_seq', 4, true);
SELECT pg_catalog.setval('public.places_row_id_seq', 6, true);
SELECT pg_catalog.setval('public.pledges_row_id_seq', 1, true);
ALTER TABLE ONLY drizzle.__drizzle_migrations
    ADD CONSTRAINT __drizzle_migrations_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.access_classes
    ADD CONSTRAINT access_classes_key_unique UNIQUE (key);
ALTER TABLE ONLY public.access_classes
    ADD CONSTRAINT access_classes_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.account
    ADD CONSTRAINT account_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.buffers
    ADD CONSTRAINT buffers_place_id_person_id_tab_pk PRIMARY KEY (place_id, person_id, tab);
ALTER TABLE ONLY public.ceilings
    ADD CONSTRAINT ceilings_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.demo_cast
    ADD CONSTRAINT demo_cast_pkey PRIMARY KEY (person_id);
ALTER TABLE ONLY public.fences
    ADD CONSTRAINT fences_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.grants
    ADD CONSTRAINT grants_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.groups
    ADD CONSTRAINT groups_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.ledger
    ADD CONSTRAINT ledger_pkey PRIMARY KEY (seq);
ALTER TABLE ONLY public.listing
    ADD CONSTRAINT listing_pkey PRIMARY KEY (place_id);
ALTER TABLE ONLY public.memberships
    ADD CONSTRAINT memberships_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.pages
    ADD CONSTRAINT pages_pkey PRIMARY KEY (place_id);
ALTER TABLE ONLY public.passes
    ADD CONSTRAINT passes_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.people
    ADD CONSTRAINT people_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.places
    ADD CONSTRAINT places_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.pledges
    ADD CONSTRAINT pledges_pkey PRIMARY KEY (row_id);
ALTER TABLE ONLY public.rate_limit
    ADD CONSTRAINT rate_limit_key_unique UNIQUE (key);
ALTER TABLE ONLY public.rate_limit
    ADD CONSTRAINT rate_limit_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.session
    ADD CONSTRAINT session_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.session
    ADD CONSTRAINT session_token_unique UNIQUE (token);
ALTER TABLE ONLY public.spaces
    ADD CONSTRAINT spaces_pkey PRIMARY KEY (place_id);
ALTER TABLE ONLY public.spaces
    ADD CONSTRAINT spaces_slug_unique UNIQUE (slug);
ALTER TABLE ONLY public.step_ins
    ADD CONSTRAINT step_ins_pkey PRIMARY KEY (seq);
ALTER TABLE ONLY public.tokens
    ADD CONSTRAINT tokens_hash_unique UNIQUE (hash);
ALTER TABLE ONLY public.tokens
    ADD CONSTRAINT tokens_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public."user"
    ADD CONSTRAINT user_email_unique UNIQUE (email);
ALTER TABLE ONLY public."user"
    ADD CONSTRAINT user_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.verification
    ADD CONSTRAINT verification_pkey PRIMARY KEY (id);
ALTER TABLE ONLY public.versions
    ADD CONSTRAINT versions_place_id_major_minor_pk PRIMARY KEY (place_id, major, minor);
ALTER TABLE ONLY public.view_counts
    ADD CONSTRAINT view_counts_place_id_day_reader_pk PRIMARY KEY (place_id, day, reader);
CREATE UNIQUE INDEX ceilings_now ON public.ceilings USING btree (place_id) WHERE (to_seq IS NULL);
CREATE INDEX fences_now ON public.fences USING btree (place_id) WHERE (to_seq IS NULL);
CREATE INDEX grants_now ON public.grants USING btree (place_id) WHERE (to_seq IS NULL);
CREATE UNIQUE INDEX groups_now ON public.groups USING btree (id) WHERE (to_seq IS NULL);
CREATE INDEX ledger_access ON public.ledger USING btree (seq) WHERE touches_access;
CREATE INDEX ledger_at ON public.ledger USING btree (at);
CREATE INDEX ledger_places ON public.ledger USING gin (places);
CREATE UNIQUE INDEX ledger_taken_back_once ON public.ledger USING btree (takes_back) WHERE (takes_back IS NOT NULL);
CREATE INDEX listing_bulletins ON public.listing USING btree (changed_at) WHERE ((kind = 'bulletin'::text) AND (state = 'live'::text));
CREATE INDEX listing_bulletins_in ON public.listing USING btree (space_id, changed_at) WHERE ((kind = 'bulletin'::text) AND (state = 'live'::text));
CREATE INDEX listing_changed ON public.listing USING btree (changed_at);
CREATE INDEX listing_class ON public.listing USING btree (class_id);
CREATE INDEX listing_title_words ON public.listing USING gin (title_words);
CREATE INDEX listing_words ON public.listing USING gin (words);
CREATE UNIQUE INDEX memberships_now ON public.memberships USING btree (group_id, member_kind, member_id) WHERE (to_seq IS NULL);
CREATE UNIQUE INDEX passes_now ON public.passes USING btree (id) WHERE (to_seq IS NULL);
CREATE UNIQUE INDEX people_now ON public.people USING btree (id) WHERE (to_seq IS NULL);
CREATE UNIQUE INDEX places_now ON public.places USING btree (id) WHERE (to_seq IS NULL);
CREATE INDEX places_parent ON public.places USING btree (parent_id) WHERE (to_seq IS NULL);
CREATE UNIQUE INDEX pledges_now ON public.pledges USING btree (id) WHERE (to_seq IS NULL);
CREATE INDEX step_ins_person ON public.step_ins USING btree (person_id, until);
ALTER TABLE ONLY public.account
    ADD CONSTRAINT account_user_id_user_id_fk FOREIGN KEY (user_id) REFERENCES public."user"(id);
ALTER TABLE ONLY public.session
    ADD CONSTRAINT session_user_id_user_id_fk FOREIGN KEY (user_id) REFERENCES public."user"(id);
