//! Who may use a server that others reach: people with their roles, their sessions, and what they did.
//!
//! Of a password its Argon2id hash is kept, of a session's token its SHA-256: whoever reads the database can use neither.

use crate::{Result, Store, StoreError};
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString};
use argon2::{Algorithm, Argon2, Params, Version};
use fuoco_core::error::FieldError;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use sqlx::Row;
use sqlx::sqlite::SqliteRow;
use std::sync::LazyLock;

/// What somebody may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Everything, people and the firm included.
    Owner,
    /// Jobs.
    Designer,
    /// Reads jobs and adds records.
    Crew,
    /// Reads jobs.
    Viewer,
}

impl Role {
    /// All of them, from most to least.
    pub const ALL: [Role; 4] = [Role::Owner, Role::Designer, Role::Crew, Role::Viewer];

    /// As it is stored and typed.
    pub fn code(self) -> &'static str {
        match self {
            Role::Owner => "owner",
            Role::Designer => "designer",
            Role::Crew => "crew",
            Role::Viewer => "viewer",
        }
    }

    /// The role of a code.
    pub fn of_code(code: &str) -> Option<Role> {
        Role::ALL.into_iter().find(|r| r.code() == code)
    }
}

/// Somebody who may sign in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Person {
    /// Id in this store.
    pub id: String,
    /// The name to sign in with.
    pub name: String,
    /// What they may do.
    pub role: Role,
    /// Since when, UTC, ISO 8601.
    pub created_at: String,
}

/// Whom a session belongs to.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Holder {
    /// A person.
    Person(Person),
    /// Whoever came by a link.
    Link(crate::links::Link),
}

/// A session as a request finds it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Session {
    /// Whose it is.
    pub holder: Holder,
    /// Its new token, where the old one has been in use for long: the old one is good for a minute more, for requests that are under
    /// way.
    pub renewed: Option<String>,
}

/// One line of who did what.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct Deed {
    /// When, UTC, ISO 8601.
    pub at: String,
    /// Who.
    pub who: String,
    /// What.
    pub what: String,
    /// The job it was done to; empty: none.
    pub job_id: String,
    /// What else is known.
    pub detail: String,
}

/// Shortest password: length is what keeps one from being guessed (OWASP ASVS 5.0, 6.2.1 asks for 8, and advises 15).
pub const LEAST_PASSWORD: usize = 12;
/// Longest, so that hashing takes a known time.
pub const MOST_PASSWORD: usize = 200;
/// Characters of a name.
const MOST_NAME: usize = 60;
/// Most people.
const MOST_PEOPLE: i64 = 1000;
/// Without a request for so long, a session ends.
const IDLE: &str = "+7 days";
/// So long after signing in, it ends in any case.
const ABSOLUTE: &str = "+30 days";
/// A token is in use so long, then it is changed.
const RENEWED_AFTER: &str = "-1 hour";
/// And is good so much longer.
const GRACE: &str = "+60 seconds";
/// The day and time now, as everything is stored.
const NOW: &str = "strftime('%Y-%m-%dT%H:%M:%fZ', 'now')";

/// OWASP's first choice for Argon2id: 19 MiB, two passes, one lane.
fn hasher() -> Argon2<'static> {
    Argon2::new(Algorithm::Argon2id, Version::V0x13, Params::new(19 * 1024, 2, 1, None).unwrap_or_default())
}

/// What an unknown name is compared with, so that it takes as long as a known one.
static NOBODY: LazyLock<String> = LazyLock::new(|| hash("nobody has this password").unwrap_or_default());

/// The hash of a password with a salt of its own.
fn hash(password: &str) -> std::result::Result<String, FieldError> {
    let failed = |e: &dyn std::fmt::Display| FieldError::new("password", e.to_string());
    let mut salt = [0; 16];
    getrandom::fill(&mut salt).map_err(|e| failed(&e))?;
    let salt = SaltString::encode_b64(&salt).map_err(|e| failed(&e))?;
    Ok(hasher().hash_password(password.as_bytes(), &salt).map_err(|e| failed(&e))?.to_string())
}

fn verified(password: &str, hash: &str) -> bool {
    PasswordHash::new(hash).is_ok_and(|h| hasher().verify_password(password.as_bytes(), &h).is_ok())
}

/// Hashing takes tens of milliseconds: it must not hold up other requests.
async fn apart<T: Send + 'static>(f: impl FnOnce() -> T + Send + 'static) -> Result<T> {
    tokio::task::spawn_blocking(f).await.map_err(|e| std::io::Error::other(e).into())
}

/// 256 bits that nobody can guess, as hexadecimal digits.
pub(crate) fn fresh_token() -> Result<String> {
    let mut bytes = [0u8; 32];
    getrandom::fill(&mut bytes).map_err(|e| std::io::Error::other(e.to_string()))?;
    Ok(hex(&bytes))
}

pub(crate) fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

/// Under what a token is found.
pub(crate) fn digest(token: &str) -> String {
    hex(&Sha256::digest(token))
}

/// That a password is one.
///
/// # Errors
/// Names the field `password`.
pub fn check_password(password: &str, name: &str) -> std::result::Result<(), FieldError> {
    let n = password.chars().count();
    if !(LEAST_PASSWORD..=MOST_PASSWORD).contains(&n) {
        let reason = format!("must have {LEAST_PASSWORD} to {MOST_PASSWORD} characters; several words make a good one");
        return Err(FieldError::new("password", reason));
    }
    let plain = password.to_lowercase();
    let mut seen: Vec<char> = plain.chars().collect();
    seen.sort_unstable();
    seen.dedup();
    if seen.len() < 5 || !name.is_empty() && plain.replace(&name.to_lowercase(), "").chars().count() < 8 {
        return Err(FieldError::new("password", "is too easy to guess"));
    }
    Ok(())
}

fn check_name(name: &str) -> std::result::Result<&str, FieldError> {
    let name = name.trim();
    if !(1..=MOST_NAME).contains(&name.chars().count()) || name.chars().any(char::is_control) {
        return Err(FieldError::new("name", format!("must have 1 to {MOST_NAME} characters")));
    }
    Ok(name)
}

fn person(row: &SqliteRow) -> Result<Person> {
    Ok(Person {
        id: row.try_get("id")?,
        name: row.try_get("name")?,
        role: Role::of_code(row.try_get("role")?).unwrap_or(Role::Viewer),
        created_at: row.try_get("created_at")?,
    })
}

impl Store {
    /// Everybody who may sign in, by name.
    pub async fn people(&self) -> Result<Vec<Person>> {
        let rows =
            sqlx::query("SELECT id, name, role, created_at FROM people ORDER BY name").fetch_all(&self.pool).await?;
        rows.iter().map(person).collect()
    }

    /// Lets somebody sign in.
    ///
    /// # Errors
    /// When the name is taken or no name, or the password too short or easy to guess.
    pub async fn add_person(&self, name: &str, role: Role, password: &str) -> Result<Person> {
        let name = check_name(name)?.to_owned();
        check_password(password, &name)?;
        let n: i64 = sqlx::query_scalar("SELECT count(*) FROM people").fetch_one(&self.pool).await?;
        if n >= MOST_PEOPLE {
            return Err(FieldError::new("name", format!("there are {MOST_PEOPLE} people already")).into());
        }
        let password = password.to_owned();
        let hash = apart(move || hash(&password)).await??;
        let row = sqlx::query(
            "INSERT INTO people (name, role, password) VALUES (?, ?, ?) ON CONFLICT DO NOTHING
             RETURNING id, name, role, created_at",
        )
        .bind(&name)
        .bind(role.code())
        .bind(hash)
        .fetch_optional(&self.pool)
        .await?
        .ok_or_else(|| FieldError::new("name", format!("\"{name}\" is there already")))?;
        person(&row)
    }

    /// The person of that id.
    ///
    /// # Errors
    /// When there is none.
    pub async fn person(&self, id: &str) -> Result<Person> {
        let row = sqlx::query("SELECT id, name, role, created_at FROM people WHERE id = ?")
            .bind(id)
            .fetch_optional(&self.pool)
            .await?;
        row.as_ref().map_or_else(|| Err(StoreError::NoPerson(id.into())), person)
    }

    /// Another role for somebody. The last owner stays one.
    ///
    /// # Errors
    /// When there is no such person, or nobody would be owner.
    pub async fn set_role(&self, id: &str, role: Role) -> Result<()> {
        let done = sqlx::query(
            "UPDATE people SET role = ?1 WHERE id = ?2
               AND (?1 = 'owner' OR role <> 'owner' OR (SELECT count(*) FROM people WHERE role = 'owner') > 1)",
        )
        .bind(role.code())
        .bind(id)
        .execute(&self.pool)
        .await?;
        self.changed_one(done.rows_affected(), id).await
    }

    /// A new password for somebody; whoever is signed in with the old one is signed out.
    ///
    /// # Errors
    /// When there is no such person, or the password is too short or easy to guess.
    pub async fn set_password(&self, id: &str, password: &str) -> Result<()> {
        let name = self.person(id).await?.name;
        check_password(password, &name)?;
        let password = password.to_owned();
        let hash = apart(move || hash(&password)).await??;
        sqlx::query("UPDATE people SET password = ? WHERE id = ?").bind(hash).bind(id).execute(&self.pool).await?;
        self.sign_out_everywhere(id).await
    }

    /// Somebody may no longer sign in, and is signed out. The last owner stays.
    ///
    /// # Errors
    /// When there is no such person, or nobody would be owner.
    pub async fn remove_person(&self, id: &str) -> Result<()> {
        let done = sqlx::query(
            "DELETE FROM people WHERE id = ?1
               AND (role <> 'owner' OR (SELECT count(*) FROM people WHERE role = 'owner') > 1)",
        )
        .bind(id)
        .execute(&self.pool)
        .await?;
        self.changed_one(done.rows_affected(), id).await
    }

    async fn changed_one(&self, rows: u64, id: &str) -> Result<()> {
        if rows == 1 {
            return Ok(());
        }
        self.person(id).await?;
        Err(FieldError::new("role", "somebody must be owner: make another person owner first").into())
    }

    /// Signs somebody in: the token of their new session; none where name or password is wrong.
    pub async fn sign_in(&self, name: &str, password: &str) -> Result<Option<(Person, String)>> {
        let Some(who) = self.known(name, password).await? else { return Ok(None) };
        let token = self.begin_session("person_id", &who.id).await?;
        Ok(Some((who, token)))
    }

    /// Whose name and password that are; none where either is wrong, after the same time for both.
    pub async fn known(&self, name: &str, password: &str) -> Result<Option<Person>> {
        let row = sqlx::query("SELECT id, name, role, created_at, password FROM people WHERE name = ?")
            .bind(name.trim())
            .fetch_optional(&self.pool)
            .await?;
        let hash = match &row {
            Some(row) => row.try_get("password")?,
            None => NOBODY.clone(),
        };
        let password: String = password.chars().take(MOST_PASSWORD + 1).collect();
        let right = apart(move || verified(&password, &hash)).await?;
        row.filter(|_| right).as_ref().map(person).transpose()
    }

    /// A new session of a person or a link.
    pub(crate) async fn begin_session(&self, column: &'static str, id: &str) -> Result<String> {
        let token = fresh_token()?;
        sqlx::query(sqlx::AssertSqlSafe(format!(
            "INSERT INTO sessions (token, {column}, began_at, issued_at, seen_at, ends_at)
             VALUES (?, ?, {NOW}, {NOW}, {NOW}, strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '{ABSOLUTE}'))"
        )))
        .bind(digest(&token))
        .bind(id)
        .execute(&self.pool)
        .await?;
        // what has ended is of no more use
        sqlx::query(sqlx::AssertSqlSafe(format!(
            "DELETE FROM sessions WHERE ends_at < {NOW} OR strftime('%Y-%m-%dT%H:%M:%fZ', seen_at, '{IDLE}') < {NOW}"
        )))
        .execute(&self.pool)
        .await?;
        Ok(token)
    }

    /// The session of a token; none where there is none, or it has ended.
    pub async fn session(&self, token: &str) -> Result<Option<Session>> {
        let key = digest(token);
        let row = sqlx::query(sqlx::AssertSqlSafe(format!(
            "SELECT person_id, link_id, issued_at < strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '{RENEWED_AFTER}') AS old,
                    seen_at < strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '-60 seconds') AS unseen
             FROM sessions WHERE token = ? AND ends_at > {NOW}
               AND strftime('%Y-%m-%dT%H:%M:%fZ', seen_at, '{IDLE}') > {NOW}
               -- a clock that was set back makes no session longer
               AND began_at <= strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '+5 minutes')"
        )))
        .bind(&key)
        .fetch_optional(&self.pool)
        .await?;
        let Some(row) = row else { return Ok(None) };
        let (person_id, link_id): (Option<String>, Option<String>) =
            (row.try_get("person_id")?, row.try_get("link_id")?);
        let holder = match (&person_id, &link_id) {
            (Some(id), _) => Holder::Person(self.person(id).await?),
            (None, Some(id)) => match self.live_link(id).await? {
                Some(link) => Holder::Link(link),
                None => return Ok(None),
            },
            (None, None) => return Ok(None),
        };
        let mut renewed = None;
        if row.try_get::<i64, _>("old")? != 0 {
            renewed = self.renew(&key).await?;
        } else if row.try_get::<i64, _>("unseen")? != 0 {
            sqlx::query(sqlx::AssertSqlSafe(format!("UPDATE sessions SET seen_at = {NOW} WHERE token = ?")))
                .bind(&key)
                .execute(&self.pool)
                .await?;
        }
        Ok(Some(Session { holder, renewed }))
    }

    /// A new token for a session; none where another request has just changed it.
    async fn renew(&self, key: &str) -> Result<Option<String>> {
        let token = fresh_token()?;
        let mut change = self.pool.begin().await?;
        // the first request wins: only a token that is not yet on its way out is changed
        let mine = sqlx::query(sqlx::AssertSqlSafe(format!(
            "INSERT INTO sessions SELECT ?1, person_id, link_id, began_at, {NOW}, {NOW}, ends_at FROM sessions
             WHERE token = ?2 AND ends_at > strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '{GRACE}')"
        )))
        .bind(digest(&token))
        .bind(key)
        .execute(&mut *change)
        .await?;
        sqlx::query(sqlx::AssertSqlSafe(format!(
            "UPDATE sessions SET issued_at = {NOW}, ends_at = min(ends_at, strftime('%Y-%m-%dT%H:%M:%fZ', 'now', '{GRACE}')) WHERE token = ?"
        )))
        .bind(key)
        .execute(&mut *change)
        .await?;
        change.commit().await?;
        Ok((mine.rows_affected() == 1).then_some(token))
    }

    /// Ends one session.
    pub async fn sign_out(&self, token: &str) -> Result<()> {
        sqlx::query("DELETE FROM sessions WHERE token = ?").bind(digest(token)).execute(&self.pool).await?;
        Ok(())
    }

    /// Ends all sessions of somebody.
    pub async fn sign_out_everywhere(&self, id: &str) -> Result<()> {
        sqlx::query("DELETE FROM sessions WHERE person_id = ?").bind(id).execute(&self.pool).await?;
        Ok(())
    }

    /// Writes down who did what.
    pub async fn note_deed(&self, who: &str, what: &str, job_id: &str, detail: &str) -> Result<()> {
        sqlx::query("INSERT INTO audit (who, what, job_id, detail) VALUES (?, ?, ?, ?)")
            .bind(who)
            .bind(what)
            .bind(job_id)
            .bind(detail)
            .execute(&self.pool)
            .await?;
        Ok(())
    }

    /// Writes down what whoever has the store in hands did to a job; on loopback nobody is told from anybody, and nothing is written.
    pub async fn did(&self, what: &str, job_id: &str) -> Result<()> {
        if self.who.is_empty() { Ok(()) } else { self.note_deed(&self.who, what, job_id, "").await }
    }

    /// Who did what, the newest first; at most `most`.
    pub async fn deeds(&self, most: u32) -> Result<Vec<Deed>> {
        let rows = sqlx::query("SELECT at, who, what, job_id, detail FROM audit ORDER BY at DESC, rowid DESC LIMIT ?")
            .bind(most)
            .fetch_all(&self.pool)
            .await?;
        rows.iter()
            .map(|row| {
                Ok(Deed {
                    at: row.try_get("at")?,
                    who: row.try_get("who")?,
                    what: row.try_get("what")?,
                    job_id: row.try_get("job_id")?,
                    detail: row.try_get("detail")?,
                })
            })
            .collect()
    }
}
