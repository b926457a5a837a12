-- What people have taught an account: readers of its texts, passes they composed, names they set aside.
CREATE TABLE reader (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    content TEXT NOT NULL CHECK (json_valid(content)),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    removed_at TEXT,
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT;
CREATE UNIQUE INDEX reader_once ON reader (bank_account_id, content) WHERE removed_at IS NULL;

CREATE TABLE composed_pass (
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    place INTEGER NOT NULL CHECK (place > 0),
    active INTEGER NOT NULL CHECK (active IN (0, 1)),
    content TEXT NOT NULL CHECK (json_valid(content)),
    PRIMARY KEY (bank_account_id, place),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT, WITHOUT ROWID;

CREATE TABLE reversal_word (
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    side TEXT NOT NULL CHECK (side IN ('bank', 'books')),
    word TEXT NOT NULL CHECK (trim(word) <> ''),
    PRIMARY KEY (bank_account_id, side, word),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT, WITHOUT ROWID;

-- Names follow from the matches people made; one that somebody removed is not used again.
CREATE TABLE name_set_aside (
    company_id INTEGER NOT NULL,
    bank_account_id INTEGER NOT NULL,
    name_key TEXT NOT NULL,
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    PRIMARY KEY (bank_account_id, name_key),
    FOREIGN KEY (company_id, bank_account_id) REFERENCES bank_account (company_id, id)
) STRICT, WITHOUT ROWID;
