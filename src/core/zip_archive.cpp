#include "core/zip_archive.h"

#include <fmt/format.h>
#include <zip.h>

namespace juvenor {
namespace {

struct Archive {
  zip_t* zip = nullptr;
  ~Archive() {
    if (zip) zip_discard(zip);
  }
};

std::string wordsOf(zip_error_t& error) {
  std::string out = zip_error_strerror(&error);
  zip_error_fini(&error);
  return out;
}

Outcome add(zip_t* zip, const ZipEntry& entry) {
  zip_source_t* source = zip_source_buffer(zip, entry.bytes.data(), entry.bytes.size(), 0);
  if (!source) return Error{zip_strerror(zip)};
  const zip_int64_t at = zip_file_add(zip, entry.name.c_str(), source, ZIP_FL_OVERWRITE | ZIP_FL_ENC_UTF_8);
  if (at < 0) {
    zip_source_free(source);
    return Error{zip_strerror(zip)};
  }
  const auto index = static_cast<zip_uint64_t>(at);
  if (entry.stored && zip_set_file_compression(zip, index, ZIP_CM_STORE, 0) != 0)
    return Error{zip_strerror(zip)};
  // the same entries make the same file
  zip_file_set_dostime(zip, index, 0, 0x21, 0);
  return Done{};
}

}  // namespace

Result<std::string> zipped(std::span<const ZipEntry> entries) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(nullptr, 0, 0, &error);
  if (!source) return Error{wordsOf(error)};
  zip_source_keep(source);
  const std::unique_ptr<zip_source_t, void (*)(zip_source_t*)> kept(source, zip_source_free);
  Archive archive{zip_open_from_source(source, ZIP_CREATE | ZIP_TRUNCATE, &error)};
  if (!archive.zip) {
    zip_source_free(source);
    return Error{wordsOf(error)};
  }
  for (const ZipEntry& entry : entries)
    if (const Outcome done = add(archive.zip, entry); !done) return done.error();
  if (zip_close(archive.zip) != 0) return Error{zip_strerror(archive.zip)};
  archive.zip = nullptr;
  zip_stat_t stat;
  zip_stat_init(&stat);
  if (zip_source_stat(source, &stat) != 0 || zip_source_open(source) != 0)
    return Error{"cannot be put together"};
  std::string bytes(stat.size, '\0');
  const zip_int64_t read = zip_source_read(source, bytes.data(), bytes.size());
  zip_source_close(source);
  if (read != static_cast<zip_int64_t>(bytes.size())) return Error{"cannot be put together"};
  return bytes;
}

Result<ZipReader> ZipReader::open(const std::string& bytes) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
  if (!source) return Error{wordsOf(error)};
  zip_t* zip = zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error);
  if (!zip) {
    zip_source_free(source);
    return Error{wordsOf(error)};
  }
  return ZipReader(std::shared_ptr<void>(zip, [](void* z) { zip_discard(static_cast<zip_t*>(z)); }));
}

Result<std::string> ZipReader::read(const std::string& name, size_t most) const {
  zip_t* zip = static_cast<zip_t*>(zip_.get());
  const zip_int64_t at = zip_name_locate(zip, name.c_str(), 0);
  if (at < 0) return std::string();
  zip_stat_t stat;
  zip_stat_init(&stat);
  const auto index = static_cast<zip_uint64_t>(at);
  if (zip_stat_index(zip, index, 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
    return Error{fmt::format("'{}' in it cannot be looked at", name)};
  if (stat.size > most) return Error{fmt::format("'{}' in it is too large", name)};
  zip_file_t* file = zip_fopen_index(zip, index, 0);
  if (!file) return Error{fmt::format("'{}' in it cannot be opened: {}", name, zip_strerror(zip))};
  std::string out(stat.size, '\0');
  const zip_int64_t got = zip_fread(file, out.data(), out.size());
  const int closed = zip_fclose(file);  // checks the sum
  if (got != static_cast<zip_int64_t>(out.size()) || closed != 0)
    return Error{fmt::format("'{}' in it is damaged", name)};
  return out;
}

}  // namespace juvenor
