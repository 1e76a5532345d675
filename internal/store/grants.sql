-- The role that the program works in: it adds facts and reads them, and can do no more to
-- them. Whoever may not make roles has it made by hand, as the README says; so this is
-- carried out at every start, after the migrations.
DO $$
BEGIN
  IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'vialbench_app') THEN
    CREATE ROLE vialbench_app NOLOGIN;
  END IF;
  IF NOT pg_has_role(current_user, 'vialbench_app', 'MEMBER') THEN
    EXECUTE format('GRANT vialbench_app TO %I', current_user);
  END IF;
EXCEPTION
  WHEN duplicate_object OR unique_violation THEN NULL; -- another database was quicker
  WHEN insufficient_privilege THEN RAISE NOTICE 'the role vialbench_app is not there, and may not be made';
END $$;
DO $$
BEGIN
  IF EXISTS (SELECT FROM pg_roles WHERE rolname = 'vialbench_app') THEN
    GRANT USAGE ON SCHEMA public TO vialbench_app;
    GRANT SELECT, INSERT ON ALL TABLES IN SCHEMA public TO vialbench_app;
    GRANT UPDATE ON accounts, sign_ins, balances, meters, photometers, benches, settings, substances, systems, plans, runs, bottles, glass, computed_by, lab_sessions, articles, containers, calendar_feeds TO vialbench_app;
    GRANT UPDATE (volume) ON takings TO vialbench_app;
    GRANT UPDATE (amount) ON stock_entries TO vialbench_app;
    GRANT UPDATE (withdrawn_at) ON unknown_sets TO vialbench_app;
    GRANT UPDATE (hand_at, bench) ON class_groups TO vialbench_app;
    GRANT UPDATE (removed_at) ON class_tasks TO vialbench_app;
    GRANT DELETE ON sign_ins, failed_sign_ins, devices, glass TO vialbench_app;
    GRANT USAGE, SELECT, UPDATE ON ALL SEQUENCES IN SCHEMA public TO vialbench_app;
  END IF;
END $$;
