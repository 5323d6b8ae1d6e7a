// A save that dies half way: what a kill at a bad moment leaves on disk.
#pragma once

#include <sys/wait.h>
#include <unistd.h>

#include <filesystem>

#include "core/document/store/database.h"

namespace juvenor::test {

/// Another process changes the document until pages of it lie in the file, and is gone before it is done.
inline void cutOffASave(const std::filesystem::path& path) {
  const pid_t child = fork();
  if (child == 0) {
    auto db = Database::open(path, Database::Mode::ReadWrite);
    const bool spilled =
        db && db->run(
                  "PRAGMA cache_size = 2; PRAGMA cache_spill = 1; BEGIN IMMEDIATE; DELETE FROM change;"
                  "CREATE TABLE large(data); INSERT INTO large WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL "
                  "SELECT i + 1 FROM n WHERE i < 2000) SELECT randomblob(2000) FROM n");
    _exit(spilled ? 0 : 1);
  }
  int status = 0;
  waitpid(child, &status, 0);
}

}  // namespace juvenor::test
