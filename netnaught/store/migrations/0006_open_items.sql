-- Unpaid invoices and bills. Amounts are positive; the account is the one they were posted to.
CREATE TABLE open_item (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    external_id TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('invoice', 'bill')),
    party TEXT NOT NULL,
    number TEXT NOT NULL,
    date TEXT NOT NULL CHECK (date IS date(date, '+0 days')),
    due TEXT NOT NULL CHECK (due IS date(due, '+0 days')),
    amount INTEGER NOT NULL CHECK (amount > 0),
    gl_account_id INTEGER NOT NULL,
    created_at TEXT NOT NULL,
    UNIQUE (company_id, id),
    UNIQUE (company_id, external_id),
    FOREIGN KEY (company_id, gl_account_id) REFERENCES gl_account (company_id, id)
) STRICT;

-- What an entry settles; it counts as long as the entry stands.
CREATE TABLE settlement (
    company_id INTEGER NOT NULL,
    open_item_id INTEGER NOT NULL,
    book_entry_id INTEGER NOT NULL,
    amount INTEGER NOT NULL CHECK (amount > 0),
    PRIMARY KEY (open_item_id, book_entry_id),
    FOREIGN KEY (company_id, open_item_id) REFERENCES open_item (company_id, id),
    FOREIGN KEY (company_id, book_entry_id) REFERENCES book_entry (company_id, id)
) STRICT, WITHOUT ROWID;
CREATE INDEX settlement_of_entry ON settlement (book_entry_id);
