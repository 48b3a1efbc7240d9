-- Whatever ends a session, through whichever door: what was opened with it hears of it at once (`server/live/`).
CREATE FUNCTION "tell_session_end"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('tesoro_pens', 'session ' || OLD.id);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER "session_ends" AFTER DELETE ON "session" FOR EACH ROW EXECUTE FUNCTION "tell_session_end"();
