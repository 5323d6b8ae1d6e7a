// The tables of a document's file, format by format: a new file has all of them, an older one gets what it
// lacks (docs/file-format.md).
#pragma once

namespace juvenor {

// What format 2 has beyond format 1.
#define JUVENOR_SINCE_2                                                                    \
  "CREATE TABLE map(refinements TEXT NOT NULL, setting TEXT NOT NULL, data BLOB NOT NULL," \
  " PRIMARY KEY(refinements, setting));"                                                   \
  "CREATE TABLE picture(fingerprint TEXT PRIMARY KEY, data BLOB NOT NULL);"
// What format 3 has beyond format 2; it also calls masks from maps "maps" in the states of steps.
#define JUVENOR_SINCE_3 "CREATE TABLE sequence(place INTEGER PRIMARY KEY, step INTEGER NOT NULL);"
// What format 4 has beyond format 3: fields of channels beside colour, which need no table of their own.
#define JUVENOR_SINCE_4 "PRAGMA user_version = 4;"

// What format 5 has beyond format 4: what has grown for layers of patterns.
#define JUVENOR_SINCE_5                                                                      \
  "CREATE TABLE grown(refinements TEXT NOT NULL, setting TEXT NOT NULL, data BLOB NOT NULL," \
  " PRIMARY KEY(refinements, setting));"                                                     \
  "PRAGMA user_version = 5;"

// What format 6 has beyond format 5: slides in the states of steps.
#define JUVENOR_SINCE_6 "PRAGMA user_version = 6;"
// What format 7 has beyond format 6: when steps were done, what the artist calls them, and checkpoints in
// their states.
#define JUVENOR_SINCE_7                                               \
  "ALTER TABLE step ADD COLUMN time INTEGER NOT NULL DEFAULT 0;"      \
  "CREATE TABLE named(step INTEGER PRIMARY KEY, name TEXT NOT NULL);" \
  "PRAGMA user_version = 7;"

// What format 8 has beyond format 7: layers and checkpoints that states name by their numbers.
#define JUVENOR_SINCE_8                                              \
  "CREATE TABLE piece(id INTEGER PRIMARY KEY, state TEXT NOT NULL);" \
  "PRAGMA user_version = 8;"

// What format 9 has beyond format 8: UV sets that were made here, by the 64-bit FNV-1a hash of their words.
#define JUVENOR_SINCE_9                                                 \
  "CREATE TABLE uvs(fingerprint TEXT PRIMARY KEY, data BLOB NOT NULL);" \
  "PRAGMA user_version = 9;"

// What format 10 has beyond format 9: sculpts all was carried over to, array by array.
#define JUVENOR_SINCE_10                                                                   \
  "CREATE TABLE sculpt(fingerprint TEXT NOT NULL, name TEXT NOT NULL, data BLOB NOT NULL," \
  " PRIMARY KEY(fingerprint, name));"                                                      \
  "PRAGMA user_version = 10;"
// What format 11 has beyond format 10: parts that were made here and rest poses, by the hash of their words.
#define JUVENOR_SINCE_11                                                  \
  "CREATE TABLE parts(fingerprint TEXT PRIMARY KEY, data BLOB NOT NULL);" \
  "CREATE TABLE rest(fingerprint TEXT PRIMARY KEY, data BLOB NOT NULL);"  \
  "PRAGMA user_version = 11;"
// What format 12 has beyond format 11: groups and clipped layers in the states of steps.
#define JUVENOR_SINCE_12 "PRAGMA user_version = 12;"
// What format 13 has beyond format 12: what is done to masks, filters on other channels than colour, and
// glow.
#define JUVENOR_SINCE_13 "PRAGMA user_version = 13;"
// What format 14 has beyond format 13: wander, coat and fuzz; eyes bring wander.
#define JUVENOR_SINCE_14 "PRAGMA user_version = 14;"
// What format 15 has beyond format 14: cameras and variants in the states of steps.
#define JUVENOR_SINCE_15 "PRAGMA user_version = 15;"

inline constexpr const char* kSchema =
    "PRAGMA application_id = 1247106638;"  // "JUVN"
    "CREATE TABLE meta(key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;"
    "CREATE TABLE shape(name TEXT PRIMARY KEY, data BLOB NOT NULL);"
    "CREATE TABLE chunk(id INTEGER PRIMARY KEY, data BLOB NOT NULL);"
    "CREATE TABLE step(id INTEGER PRIMARY KEY, name TEXT NOT NULL, state TEXT NOT NULL);"
    "CREATE TABLE change(step INTEGER NOT NULL, layer INTEGER NOT NULL, field INTEGER NOT NULL,"
    " chunk INTEGER NOT NULL, data INTEGER, PRIMARY KEY(step, layer, field, chunk)) WITHOUT "
    "ROWID;" JUVENOR_SINCE_2 JUVENOR_SINCE_3 JUVENOR_SINCE_4 JUVENOR_SINCE_5 JUVENOR_SINCE_6 JUVENOR_SINCE_7
        JUVENOR_SINCE_8 JUVENOR_SINCE_9 JUVENOR_SINCE_10 JUVENOR_SINCE_11 JUVENOR_SINCE_12 JUVENOR_SINCE_13
            JUVENOR_SINCE_14 JUVENOR_SINCE_15;
inline constexpr const char* kSince2 = JUVENOR_SINCE_2;
inline constexpr const char* kSince3 = JUVENOR_SINCE_3;
inline constexpr const char* kSince4 = JUVENOR_SINCE_4;
inline constexpr const char* kSince5 = JUVENOR_SINCE_5;
inline constexpr const char* kSince6 = JUVENOR_SINCE_6;
inline constexpr const char* kSince7 = JUVENOR_SINCE_7;
inline constexpr const char* kSince8 = JUVENOR_SINCE_8;
inline constexpr const char* kSince9 = JUVENOR_SINCE_9;
inline constexpr const char* kSince10 = JUVENOR_SINCE_10;
inline constexpr const char* kSince11 = JUVENOR_SINCE_11;
inline constexpr const char* kSince12 = JUVENOR_SINCE_12;
inline constexpr const char* kSince13 = JUVENOR_SINCE_13;
inline constexpr const char* kSince14 = JUVENOR_SINCE_14;
inline constexpr const char* kSince15 = JUVENOR_SINCE_15;

}  // namespace juvenor
