-- How statements get in, and the evidence that stays.

-- A layout that reads one bank's tables; recognised by its heading.
CREATE TABLE layout (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    heading TEXT NOT NULL CHECK (json_valid(heading)),
    content TEXT NOT NULL CHECK (json_valid(content)),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    UNIQUE (bank_account_id, heading),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT;

-- What a bank calls an account, as a person has said it belongs to one of ours.
CREATE TABLE account_alias (
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    number TEXT NOT NULL CHECK (number <> ''),
    PRIMARY KEY (company_id, number),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT, WITHOUT ROWID;

-- Receipts, check images, notes: on a statement line, an entry or a reconciliation.
CREATE TABLE evidence (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    entity TEXT NOT NULL CHECK (entity IN ('line', 'entry', 'reconciliation')),
    entity_id INTEGER NOT NULL,
    name TEXT NOT NULL,
    media_type TEXT NOT NULL,
    sha256 TEXT,
    content BLOB,
    note TEXT NOT NULL,
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    deleted_at TEXT,
    UNIQUE (company_id, id)
) STRICT;
CREATE INDEX evidence_of ON evidence (company_id, entity, entity_id);
CREATE TRIGGER evidence_stays BEFORE DELETE ON evidence
BEGIN
    SELECT RAISE (ABORT, 'evidence is never removed');
END;

-- A bank account's connection to its bank's service. `mark`: new lines are asked for since then.
CREATE TABLE connection (
    bank_account_id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    address TEXT NOT NULL,
    remote_id TEXT NOT NULL,
    mark TEXT NOT NULL DEFAULT '',
    fetched_at TEXT,
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT;

-- How an account's books start: against which account its opening balance is posted, and by which journal entry.
CREATE TABLE account_start (
    bank_account_id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    equity_account_id INTEGER NOT NULL,
    journal_entry_id INTEGER,
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id),
    FOREIGN KEY (company_id, equity_account_id) REFERENCES gl_account (company_id, id),
    FOREIGN KEY (company_id, journal_entry_id) REFERENCES journal_entry (company_id, id)
) STRICT;
