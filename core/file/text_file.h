// Whole text files, read and written so that nothing is harmed: an old file stays until the new one is safe on the
// disk, a link stays a link, modes and owners stay, pipes and devices are written to, a read-only file is refused.
#pragma once
#include <cstdint>
#include <optional>
#include <string>

namespace mossbed {

// All functions here throw Trouble with a sentence.
std::string read_text(const std::string& path);

// Writes beside the target, flushes to the disk, then renames over it: a crash leaves the old file or the new one.
// What `path` links to is written, the link stays. A file of several names (hard links) is written over in place, after
// a whole copy beside it is safe. Leftovers "NAME~partPID" of processes that died are removed.
void save_text(const std::string& text, const std::string& path);

// What tells whether somebody else changed a file. None where there is no file.
struct FileStamp {
    int64_t changed_ns = 0, size = 0;
    uint64_t inode = 0;
    bool operator==(const FileStamp&) const = default;
};
std::optional<FileStamp> stamp_of(const std::string& path);

// Is the process that a leftover is named for (…~partPID, …~recoveryPID) still running? A number that another program
// has taken since, or a process that ended and waits to be noticed, does not count.
bool is_running(int pid);

}  // namespace mossbed
