-- The ordered list of passes of an account, where it is not the usual one. Days are NULL where a pass has no window.
CREATE TABLE pass_setting (
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    place INTEGER NOT NULL CHECK (place > 0),
    name TEXT NOT NULL CHECK (name IN ('reference and amount', 'amount and date', 'amount and text', 'groups', 'washes')),
    active INTEGER NOT NULL CHECK (active IN (0, 1)),
    days_before INTEGER CHECK (days_before BETWEEN 0 AND 3660),
    days_after INTEGER CHECK (days_after BETWEEN 0 AND 3660),
    PRIMARY KEY (bank_account_id, place),
    UNIQUE (bank_account_id, name),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT, WITHOUT ROWID;
