-- When an outstanding entry is stale: a check after so many months, others after so many days (NULL: never).
ALTER TABLE company ADD COLUMN check_months INTEGER NOT NULL DEFAULT 6 CHECK (check_months BETWEEN 1 AND 60);
ALTER TABLE company ADD COLUMN deposit_days INTEGER DEFAULT 5 CHECK (deposit_days BETWEEN 1 AND 3650);
ALTER TABLE company ADD COLUMN payment_days INTEGER DEFAULT 60 CHECK (payment_days BETWEEN 1 AND 3650);
