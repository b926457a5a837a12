-- What keeps sealed things standing: rights per person, review, seals made again, acceptances.

-- Rights switched on or off for one person, against what the role says.
CREATE TABLE membership_right (
    company_id INTEGER NOT NULL,
    user_id INTEGER NOT NULL,
    name TEXT NOT NULL CHECK (name IN ('seal', 'approve', 'break', 'alter', 'tick', 'manage')),
    allowed INTEGER NOT NULL CHECK (allowed IN (0, 1)),
    PRIMARY KEY (company_id, user_id, name),
    FOREIGN KEY (company_id, user_id) REFERENCES membership (company_id, user_id)
) STRICT, WITHOUT ROWID;

-- Whether a second person approves; where a reconciliation that is not sealed stands.
ALTER TABLE company ADD COLUMN review INTEGER NOT NULL DEFAULT 0 CHECK (review IN (0, 1));
ALTER TABLE reconciliation ADD COLUMN stage TEXT NOT NULL DEFAULT 'in work'
    CHECK (stage IN ('in work', 'in review', 'opened again'));
ALTER TABLE reconciliation ADD COLUMN prepared_by INTEGER REFERENCES user (id);
ALTER TABLE reconciliation ADD COLUMN prepared_at TEXT;

CREATE TABLE review_note (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    reconciliation_id INTEGER NOT NULL,
    statement_line_id INTEGER REFERENCES statement_line (id),
    book_entry_id INTEGER REFERENCES book_entry (id),
    text TEXT NOT NULL CHECK (trim(text) <> ''),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    closed_by INTEGER REFERENCES user (id),
    closed_at TEXT,
    UNIQUE (company_id, id),
    FOREIGN KEY (company_id, reconciliation_id) REFERENCES reconciliation (company_id, id)
) STRICT;
CREATE INDEX review_note_of ON review_note (reconciliation_id);

-- A reconciliation may be sealed more than once: each seal is a further link of the account's chain,
-- the newest of a reconciliation is the one that holds. Seal and paper are written anew without the
-- old rule of one seal per reconciliation.
CREATE TABLE seal_next (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    reconciliation_id INTEGER NOT NULL,
    number INTEGER NOT NULL CHECK (number > 0),
    opening INTEGER NOT NULL,
    closing INTEGER NOT NULL,
    content BLOB NOT NULL,
    previous TEXT NOT NULL,
    sha256 TEXT NOT NULL UNIQUE,
    made TEXT NOT NULL CHECK (made IN ('sealed', 'sealed again', 'chained again')),
    replaces_id INTEGER REFERENCES seal_next (id),
    sealed_by INTEGER NOT NULL REFERENCES user (id),
    sealed_at TEXT NOT NULL,
    UNIQUE (bank_account_id, number),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id),
    FOREIGN KEY (company_id, reconciliation_id) REFERENCES reconciliation (company_id, id)
) STRICT;
INSERT INTO seal_next SELECT id, company_id, bank_account_id, reconciliation_id, number, opening, closing, content,
    previous, sha256, 'sealed', NULL, sealed_by, sealed_at FROM seal;
CREATE TABLE paper_next (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    seal_id INTEGER NOT NULL REFERENCES seal_next (id),
    kind TEXT NOT NULL CHECK (kind IN ('report.json', 'report.pdf')),
    content BLOB NOT NULL,
    sha256 TEXT NOT NULL,
    UNIQUE (seal_id, kind)
) STRICT;
INSERT INTO paper_next SELECT id, company_id, seal_id, kind, content, sha256 FROM paper;
DROP TABLE paper;
DROP TABLE seal;
ALTER TABLE seal_next RENAME TO seal;
ALTER TABLE paper_next RENAME TO paper;
CREATE INDEX seal_of_reconciliation ON seal (reconciliation_id, number);
CREATE TRIGGER seal_stands BEFORE UPDATE ON seal
BEGIN
    SELECT RAISE (ABORT, 'a seal is never altered');
END;
CREATE TRIGGER seal_stays BEFORE DELETE ON seal
BEGIN
    SELECT RAISE (ABORT, 'a seal is never removed');
END;
CREATE TRIGGER paper_stands BEFORE UPDATE ON paper
BEGIN
    SELECT RAISE (ABORT, 'a sealed paper is never altered');
END;
CREATE TRIGGER paper_stays BEFORE DELETE ON paper
BEGIN
    SELECT RAISE (ABORT, 'a sealed paper is never removed');
END;

-- A change to something sealed that was accepted as it stands: by an entry of the current period that
-- takes the shift back and counts in the sealed one (its decision), or by a note alone.
CREATE TABLE acceptance (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    reconciliation_id INTEGER NOT NULL,
    book_entry_id INTEGER NOT NULL,
    by_entry_id INTEGER,
    decision_id INTEGER,
    accepted TEXT NOT NULL CHECK (json_valid(accepted)),
    reason TEXT NOT NULL CHECK (trim(reason) <> ''),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    withdrawn_at TEXT,
    UNIQUE (company_id, id),
    FOREIGN KEY (company_id, reconciliation_id) REFERENCES reconciliation (company_id, id),
    FOREIGN KEY (company_id, book_entry_id) REFERENCES book_entry (company_id, id),
    FOREIGN KEY (company_id, by_entry_id) REFERENCES book_entry (company_id, id),
    FOREIGN KEY (company_id, decision_id) REFERENCES decision (company_id, id)
) STRICT;
CREATE UNIQUE INDEX acceptance_once ON acceptance (reconciliation_id, book_entry_id) WHERE withdrawn_at IS NULL;

-- Nothing more is posted to a closed account.
ALTER TABLE gl_account ADD COLUMN closed INTEGER NOT NULL DEFAULT 0 CHECK (closed IN (0, 1));

-- Entries moved from one bank account to another: what was sealed of them is looked for by this.
CREATE TABLE entry_move (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    book_entry_id INTEGER NOT NULL,
    from_account_id INTEGER NOT NULL,
    to_account_id INTEGER NOT NULL,
    FOREIGN KEY (company_id, book_entry_id) REFERENCES book_entry (company_id, id),
    FOREIGN KEY (company_id, from_account_id) REFERENCES bank_account (company_id, id),
    FOREIGN KEY (company_id, to_account_id) REFERENCES bank_account (company_id, id)
) STRICT;
CREATE INDEX entry_move_from ON entry_move (from_account_id);

-- Journals that came from books kept elsewhere carry the id they have there.
ALTER TABLE journal_entry ADD COLUMN external_id TEXT;
CREATE UNIQUE INDEX journal_entry_external ON journal_entry (company_id, external_id) WHERE external_id IS NOT NULL;

-- How the columns of a bank book were pointed out, recognised next time by its heading.
CREATE TABLE book_columns (
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    heading TEXT NOT NULL,
    content TEXT NOT NULL CHECK (json_valid(content)),
    PRIMARY KEY (bank_account_id, heading),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT, WITHOUT ROWID;
