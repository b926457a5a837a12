-- The ground everything stands on. Money: integers of minor units, positive = money into the
-- account. Dates: ISO 8601 days. Times: ISO 8601 UTC. Every row belongs to a company, except
-- users, their sign-ins and the audit trail's own entries about them.

CREATE TABLE company (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (name <> ''),
    currency TEXT NOT NULL,
    locale TEXT NOT NULL DEFAULT 'en_US',
    created_at TEXT NOT NULL
) STRICT;

CREATE TABLE user (
    id INTEGER PRIMARY KEY,
    email TEXT NOT NULL UNIQUE COLLATE NOCASE,
    name TEXT NOT NULL,
    password_hash TEXT NOT NULL,
    created_at TEXT NOT NULL
) STRICT;

CREATE TABLE membership (
    company_id INTEGER NOT NULL REFERENCES company (id),
    user_id INTEGER NOT NULL REFERENCES user (id),
    role TEXT NOT NULL CHECK (role IN ('owner', 'preparer', 'reviewer', 'viewer')),
    PRIMARY KEY (company_id, user_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE session (
    token_sha256 TEXT PRIMARY KEY,
    user_id INTEGER NOT NULL REFERENCES user (id),
    csrf_token TEXT NOT NULL,
    created_at TEXT NOT NULL,
    expires_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE sign_in_attempt (
    id INTEGER PRIMARY KEY,
    email TEXT NOT NULL COLLATE NOCASE,
    address TEXT NOT NULL,
    at TEXT NOT NULL
) STRICT;
CREATE INDEX sign_in_attempt_email ON sign_in_attempt (email, at);
CREATE INDEX sign_in_attempt_address ON sign_in_attempt (address, at);

-- General ledger -------------------------------------------------------------------------------

CREATE TABLE gl_account (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    number TEXT NOT NULL,
    name TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('asset', 'liability', 'equity', 'income', 'expense')),
    UNIQUE (company_id, number),
    UNIQUE (company_id, id)
) STRICT;

CREATE TABLE journal_entry (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    date TEXT NOT NULL CHECK (date IS date(date, '+0 days')),
    memo TEXT NOT NULL,
    posted INTEGER NOT NULL DEFAULT 0 CHECK (posted IN (0, 1)),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    deleted_at TEXT,
    UNIQUE (company_id, id)
) STRICT;

CREATE TABLE journal_line (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    journal_entry_id INTEGER NOT NULL,
    gl_account_id INTEGER NOT NULL,
    amount INTEGER NOT NULL,
    base_amount INTEGER NOT NULL,
    memo TEXT NOT NULL DEFAULT '',
    UNIQUE (company_id, id),
    FOREIGN KEY (company_id, journal_entry_id) REFERENCES journal_entry (company_id, id),
    FOREIGN KEY (company_id, gl_account_id) REFERENCES gl_account (company_id, id)
) STRICT;
CREATE INDEX journal_line_entry ON journal_line (journal_entry_id);
CREATE INDEX journal_line_account ON journal_line (gl_account_id);

-- A journal entry is written unposted, gets its lines, and is posted: only if they balance.
-- While posted its lines stand still. Balances read posted entries only.
CREATE TRIGGER journal_entry_arrives_unposted BEFORE INSERT ON journal_entry WHEN NEW.posted = 1
BEGIN
    SELECT RAISE (ABORT, 'a journal entry is posted after its lines are written');
END;
CREATE TRIGGER journal_entry_balances BEFORE UPDATE OF posted ON journal_entry WHEN NEW.posted = 1
BEGIN
    SELECT RAISE (ABORT, 'journal entry out of balance')
    WHERE (SELECT coalesce(sum(base_amount), 1) FROM journal_line WHERE journal_entry_id = NEW.id) <> 0;
END;
CREATE TRIGGER journal_line_insert_while_posted BEFORE INSERT ON journal_line
WHEN (SELECT posted FROM journal_entry WHERE id = NEW.journal_entry_id) = 1
BEGIN
    SELECT RAISE (ABORT, 'journal entry is posted');
END;
CREATE TRIGGER journal_line_update_while_posted BEFORE UPDATE ON journal_line
WHEN (SELECT posted FROM journal_entry WHERE id = OLD.journal_entry_id) = 1
BEGIN
    SELECT RAISE (ABORT, 'journal entry is posted');
END;
CREATE TRIGGER journal_line_delete_while_posted BEFORE DELETE ON journal_line
WHEN (SELECT posted FROM journal_entry WHERE id = OLD.journal_entry_id) = 1
BEGIN
    SELECT RAISE (ABORT, 'journal entry is posted');
END;

-- Bank accounts and the bank book --------------------------------------------------------------

CREATE TABLE bank_account (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    gl_account_id INTEGER NOT NULL UNIQUE,
    name TEXT NOT NULL,
    bank TEXT NOT NULL,
    number TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('bank', 'card', 'cash')),
    currency TEXT NOT NULL,
    starting_date TEXT NOT NULL CHECK (starting_date IS date(starting_date, '+0 days')),
    starting_balance INTEGER NOT NULL,
    UNIQUE (company_id, id),
    FOREIGN KEY (company_id, gl_account_id) REFERENCES gl_account (company_id, id)
) STRICT;

CREATE TABLE book_entry (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    external_id TEXT,
    date TEXT NOT NULL CHECK (date IS date(date, '+0 days')),
    reference TEXT NOT NULL,
    payee TEXT NOT NULL,
    memo TEXT NOT NULL,
    amount INTEGER NOT NULL,
    origin TEXT NOT NULL CHECK (origin IN ('starting', 'typed', 'imported', 'recorded')),
    journal_line_id INTEGER UNIQUE,
    revision INTEGER NOT NULL DEFAULT 1,
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    deleted_at TEXT,
    UNIQUE (company_id, id),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id),
    FOREIGN KEY (company_id, journal_line_id) REFERENCES journal_line (company_id, id)
) STRICT;
CREATE UNIQUE INDEX book_entry_external ON book_entry (bank_account_id, external_id) WHERE external_id IS NOT NULL;
CREATE INDEX book_entry_by_date ON book_entry (bank_account_id, date) WHERE deleted_at IS NULL;

-- Statements -----------------------------------------------------------------------------------

CREATE TABLE statement_file (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    name TEXT NOT NULL,
    sha256 TEXT NOT NULL,
    content BLOB NOT NULL,
    created_at TEXT NOT NULL,
    UNIQUE (company_id, id),
    UNIQUE (company_id, sha256)
) STRICT;

CREATE TABLE reconciliation (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    closing_date TEXT NOT NULL CHECK (closing_date IS date(closing_date, '+0 days')),
    state TEXT NOT NULL CHECK (state IN ('open', 'sealed')),
    change INTEGER NOT NULL DEFAULT 0,
    created_at TEXT NOT NULL,
    UNIQUE (company_id, id),
    UNIQUE (bank_account_id, closing_date),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT;

CREATE TABLE statement (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    reconciliation_id INTEGER NOT NULL,
    file_id INTEGER,
    format TEXT NOT NULL CHECK (format IN ('ofx', 'camt.053', 'mt940', 'bai2', 'csv', 'delimited', 'xlsx', 'pdf',
        'typed', 'counted', 'feed')),
    start_date TEXT NOT NULL CHECK (start_date IS date(start_date, '+0 days')),
    end_date TEXT NOT NULL CHECK (end_date IS date(end_date, '+0 days') AND end_date >= start_date),
    dates_stated INTEGER NOT NULL CHECK (dates_stated IN (0, 1)),
    opening INTEGER,
    closing INTEGER,
    total_in INTEGER,
    total_out INTEGER,
    count_in INTEGER,
    count_out INTEGER,
    delivered_total INTEGER NOT NULL,
    delivered_in INTEGER NOT NULL,
    delivered_out INTEGER NOT NULL,
    delivered_count_in INTEGER NOT NULL,
    delivered_count_out INTEGER NOT NULL,
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    deleted_at TEXT,
    UNIQUE (company_id, id),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id),
    FOREIGN KEY (company_id, reconciliation_id) REFERENCES reconciliation (company_id, id),
    FOREIGN KEY (company_id, file_id) REFERENCES statement_file (company_id, id)
) STRICT;
CREATE INDEX statement_of_account ON statement (bank_account_id, start_date);
CREATE INDEX statement_of_reconciliation ON statement (reconciliation_id);

CREATE TABLE statement_line (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    statement_id INTEGER NOT NULL,
    position INTEGER NOT NULL,
    bank_id TEXT,
    date TEXT NOT NULL CHECK (date IS date(date, '+0 days')),
    value_date TEXT CHECK (value_date IS date(value_date, '+0 days')),
    amount INTEGER NOT NULL,
    reference TEXT NOT NULL,
    description TEXT NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('check', 'deposit', 'payment', 'transfer', 'card', 'cash', 'fee', 'interest',
        'direct debit', 'other')),
    deleted_at TEXT,
    UNIQUE (company_id, id),
    UNIQUE (statement_id, position),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id),
    FOREIGN KEY (company_id, statement_id) REFERENCES statement (company_id, id)
) STRICT;
CREATE UNIQUE INDEX statement_line_bank_id ON statement_line (bank_account_id, bank_id)
    WHERE bank_id IS NOT NULL AND deleted_at IS NULL;
CREATE INDEX statement_line_by_date ON statement_line (bank_account_id, date, amount) WHERE deleted_at IS NULL;

-- Decisions and clearings ----------------------------------------------------------------------

CREATE TABLE decision (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    reconciliation_id INTEGER NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('match', 'wash', 'tick', 'bank error', 'bank correction')),
    settles_id INTEGER REFERENCES decision (id),
    pass TEXT CHECK (pass IN ('reference and amount', 'amount and date', 'amount and text', 'groups', 'washes', 'composed')),
    confidence INTEGER CHECK (confidence BETWEEN 0 AND 100),
    why TEXT NOT NULL,
    active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1)),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    withdrawn_by INTEGER REFERENCES user (id),
    withdrawn_at TEXT,
    UNIQUE (company_id, id),
    FOREIGN KEY (company_id, reconciliation_id) REFERENCES reconciliation (company_id, id)
) STRICT;
CREATE INDEX decision_of_reconciliation ON decision (reconciliation_id) WHERE active = 1;

-- A line is resolved, an entry cleared, by one active decision at most: the database refuses a second.
CREATE TABLE resolution (
    company_id INTEGER NOT NULL,
    decision_id INTEGER NOT NULL,
    statement_line_id INTEGER NOT NULL,
    active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1)),
    PRIMARY KEY (decision_id, statement_line_id),
    FOREIGN KEY (company_id, decision_id) REFERENCES decision (company_id, id),
    FOREIGN KEY (company_id, statement_line_id) REFERENCES statement_line (company_id, id)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX resolution_once ON resolution (statement_line_id) WHERE active = 1;

CREATE TABLE clearing (
    company_id INTEGER NOT NULL,
    decision_id INTEGER NOT NULL,
    book_entry_id INTEGER NOT NULL,
    active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1)),
    PRIMARY KEY (decision_id, book_entry_id),
    FOREIGN KEY (company_id, decision_id) REFERENCES decision (company_id, id),
    FOREIGN KEY (company_id, book_entry_id) REFERENCES book_entry (company_id, id)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX clearing_once ON clearing (book_entry_id) WHERE active = 1;

-- What a person did, step by step, so that it can be undone and done again.
CREATE TABLE step (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    reconciliation_id INTEGER NOT NULL,
    user_id INTEGER NOT NULL REFERENCES user (id),
    label TEXT NOT NULL,
    operations TEXT NOT NULL CHECK (json_valid(operations)),
    state TEXT NOT NULL CHECK (state IN ('done', 'undone', 'dropped')),
    at TEXT NOT NULL,
    FOREIGN KEY (company_id, reconciliation_id) REFERENCES reconciliation (company_id, id)
) STRICT;
CREATE INDEX step_of_user ON step (reconciliation_id, user_id, state, id);

-- Seals and papers -----------------------------------------------------------------------------

CREATE TABLE seal (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    reconciliation_id INTEGER NOT NULL UNIQUE,
    number INTEGER NOT NULL CHECK (number > 0),
    opening INTEGER NOT NULL,
    closing INTEGER NOT NULL,
    content BLOB NOT NULL,
    previous TEXT NOT NULL,
    sha256 TEXT NOT NULL UNIQUE,
    sealed_by INTEGER NOT NULL REFERENCES user (id),
    sealed_at TEXT NOT NULL,
    UNIQUE (bank_account_id, number),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id),
    FOREIGN KEY (company_id, reconciliation_id) REFERENCES reconciliation (company_id, id)
) STRICT;
CREATE TRIGGER seal_stands BEFORE UPDATE ON seal
BEGIN
    SELECT RAISE (ABORT, 'a seal is never altered');
END;
CREATE TRIGGER seal_stays BEFORE DELETE ON seal
BEGIN
    SELECT RAISE (ABORT, 'a seal is never removed');
END;

CREATE TABLE paper (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    seal_id INTEGER NOT NULL REFERENCES seal (id),
    kind TEXT NOT NULL CHECK (kind IN ('report.json', 'report.pdf')),
    content BLOB NOT NULL,
    sha256 TEXT NOT NULL,
    UNIQUE (seal_id, kind)
) STRICT;
CREATE TRIGGER paper_stands BEFORE UPDATE ON paper
BEGIN
    SELECT RAISE (ABORT, 'a sealed paper is never altered');
END;
CREATE TRIGGER paper_stays BEFORE DELETE ON paper
BEGIN
    SELECT RAISE (ABORT, 'a sealed paper is never removed');
END;

-- Audit trail ----------------------------------------------------------------------------------

CREATE TABLE audit_event (
    id INTEGER PRIMARY KEY,
    company_id INTEGER REFERENCES company (id),
    user_id INTEGER REFERENCES user (id),
    at TEXT NOT NULL,
    what TEXT NOT NULL,
    entity TEXT NOT NULL,
    entity_id INTEGER,
    before TEXT CHECK (before IS NULL OR json_valid(before)),
    after TEXT CHECK (after IS NULL OR json_valid(after)),
    previous TEXT NOT NULL,
    sha256 TEXT NOT NULL UNIQUE
) STRICT;
CREATE INDEX audit_event_of_entity ON audit_event (company_id, entity, entity_id);
CREATE TRIGGER audit_event_stands BEFORE UPDATE ON audit_event
BEGIN
    SELECT RAISE (ABORT, 'the audit trail is append-only');
END;
CREATE TRIGGER audit_event_stays BEFORE DELETE ON audit_event
BEGIN
    SELECT RAISE (ABORT, 'the audit trail is append-only');
END;
