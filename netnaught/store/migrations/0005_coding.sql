-- What coding needs: departments, taxes, parties with their usual account, and rules.
CREATE TABLE department (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    name TEXT NOT NULL CHECK (trim(name) <> ''),
    UNIQUE (company_id, id),
    UNIQUE (company_id, name)
) STRICT;

-- Rates in millionths: 8.875 % is 88750.
CREATE TABLE tax_code (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    code TEXT NOT NULL CHECK (trim(code) <> ''),
    rate INTEGER NOT NULL CHECK (rate BETWEEN 0 AND 1000000),
    gl_account_id INTEGER NOT NULL,
    UNIQUE (company_id, id),
    UNIQUE (company_id, code),
    FOREIGN KEY (company_id, gl_account_id) REFERENCES gl_account (company_id, id)
) STRICT;

CREATE TABLE party (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL,
    name TEXT NOT NULL CHECK (trim(name) <> ''),
    gl_account_id INTEGER,
    tax_code_id INTEGER,
    department_id INTEGER,
    UNIQUE (company_id, id),
    UNIQUE (company_id, name),
    FOREIGN KEY (company_id, gl_account_id) REFERENCES gl_account (company_id, id),
    FOREIGN KEY (company_id, tax_code_id) REFERENCES tax_code (company_id, id),
    FOREIGN KEY (company_id, department_id) REFERENCES department (company_id, id)
) STRICT;

CREATE TABLE coding_rule (
    id INTEGER PRIMARY KEY,
    company_id INTEGER NOT NULL REFERENCES company (id),
    place INTEGER NOT NULL,
    active INTEGER NOT NULL DEFAULT 1 CHECK (active IN (0, 1)),
    uses INTEGER NOT NULL DEFAULT 0,
    content TEXT NOT NULL CHECK (json_valid(content)),
    created_by INTEGER NOT NULL REFERENCES user (id),
    created_at TEXT NOT NULL,
    removed_at TEXT,
    UNIQUE (company_id, id)
) STRICT;

ALTER TABLE journal_line ADD COLUMN tax_code_id INTEGER REFERENCES tax_code (id);
ALTER TABLE journal_line ADD COLUMN department_id INTEGER REFERENCES department (id);
ALTER TABLE journal_line ADD COLUMN tags TEXT NOT NULL DEFAULT '';

-- No entry is written, changed or removed on or before this day.
ALTER TABLE company ADD COLUMN lock_date TEXT CHECK (lock_date IS date(lock_date, '+0 days'));
