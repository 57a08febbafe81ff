#include "core/file/text_file.h"

#include <fcntl.h>
#include <signal.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <climits>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fstream>

#include "core/base/problem.h"

namespace mossbed {
namespace {

std::string fault_of(const char* deed) { return std::string(deed) + " failed: " + std::strerror(errno); }

[[noreturn]] void give_up(const std::string& what, const std::string& path, const std::string& mend) {
    throw Trouble({what, path, mend, Severity::error, {}});
}

class OpenFile {  // closes itself
  public:
    OpenFile(const std::string& path, int flags, mode_t mode = 0)
        : fd_(::open(path.c_str(), flags | O_CLOEXEC, mode)) {}
    ~OpenFile() {
        if (fd_ >= 0) ::close(fd_);
    }
    OpenFile(const OpenFile&) = delete;
    OpenFile& operator=(const OpenFile&) = delete;
    bool is_open() const { return fd_ >= 0; }
    int fd() const { return fd_; }
    bool put(const std::string& text) const {
        for (size_t done = 0; done < text.size();) {
            const ssize_t n = ::write(fd_, text.data() + done, text.size() - done);
            if (n < 0 && errno == EINTR) continue;
            if (n <= 0) return false;
            done += size_t(n);
        }
        return true;
    }

  private:
    int fd_;
};

// Where the bytes go: a pipe, a device, or a file that is opened by a name of the system's own (/dev/stdout).
bool is_stream(const std::string& path, const struct stat& st) {
    return (!S_ISREG(st.st_mode) && !S_ISDIR(st.st_mode)) || path.rfind("/dev/", 0) == 0 ||
           path.rfind("/proc/", 0) == 0;
}

void write_to_stream(const std::string& text, const std::string& path) {
    const OpenFile out(path, O_WRONLY);
    if (!out.is_open()) give_up(fault_of("opening it for writing"), path, "check that you may write to it");
    if (!out.put(text)) give_up(fault_of("writing"), path, "check that somebody reads from it");
}

// The file behind a chain of links; the last of them may lead to a file that is not there yet.
std::string behind_links(std::string path) {
    for (int k = 0; k < 40; ++k) {
        std::error_code none;
        if (!std::filesystem::is_symlink(path, none)) return path;
        const std::filesystem::path to = std::filesystem::read_symlink(path, none);
        if (none) return path;
        path = to.is_absolute() ? to.string() : (std::filesystem::path(path).parent_path() / to).string();
    }
    give_up("its links lead in a circle", path, "save under another name");
}

std::string folder_of(const std::string& path) {
    const size_t slash = path.rfind('/');
    return slash == std::string::npos ? "." : slash == 0 ? "/" : path.substr(0, slash);
}

void remove_leftovers(const std::string& target) {
    const std::string stem = std::filesystem::path(target).filename().string() + "~part";
    std::error_code none;
    for (std::filesystem::directory_iterator it(folder_of(target), none), end; !none && it != end; it.increment(none)) {
        const std::string name = it->path().filename().string();
        if (name.rfind(stem, 0) != 0) continue;
        const std::string pid = name.substr(stem.size());
        if (pid.empty() || pid.size() > 9 || pid.find_first_not_of("0123456789") != std::string::npos) continue;
        if (!is_running(std::atoi(pid.c_str()))) ::unlink(it->path().c_str());
    }
}

void flush_folder(const std::string& path) {  // so that the rename itself survives a power cut
    const OpenFile folder(folder_of(path), O_RDONLY | O_DIRECTORY);
    if (folder.is_open()) ::fsync(folder.fd());
}

void write_over(const std::string& text, const std::string& target, const std::string& beside) {
    const OpenFile out(target, O_WRONLY | O_TRUNC);
    if (!out.is_open() || !out.put(text) || ::fsync(out.fd()) != 0)
        give_up(fault_of("writing"), target, "the whole text is in " + beside);
    ::unlink(beside.c_str());
}

}  // namespace

bool is_running(int pid) {
    if (pid <= 0 || (::kill(pid, 0) != 0 && errno != EPERM)) return false;
    // "PID (name) state …", see proc(5)
    auto look = [](const std::string& who) {
        std::ifstream in("/proc/" + who + "/stat");
        std::string text{std::istreambuf_iterator<char>(in), std::istreambuf_iterator<char>()};
        const size_t open = text.find('('), close = text.rfind(')');
        if (open == std::string::npos || close == std::string::npos || close + 2 >= text.size())
            return std::pair<std::string, char>{"", '?'};
        return std::pair{text.substr(open + 1, close - open - 1), text[close + 2]};
    };
    const auto [name, state] = look(std::to_string(pid));
    if (state == '?') return true;  // it cannot be looked at: leave it alone
    return state != 'Z' && state != 'X' && (name.rfind("mossbed", 0) == 0 || name == look("self").first);
}

std::optional<FileStamp> stamp_of(const std::string& path) {
    struct stat st {};
    if (::stat(path.c_str(), &st) != 0) return {};
    return FileStamp{int64_t(st.st_mtim.tv_sec) * 1'000'000'000 + st.st_mtim.tv_nsec, int64_t(st.st_size),
                     uint64_t(st.st_ino)};
}

void save_text(const std::string& text, const std::string& path) {
    struct stat old {};
    const bool exists = ::stat(path.c_str(), &old) == 0;
    if (exists && S_ISDIR(old.st_mode)) give_up("this is a folder", path, "give the name of a file in it");
    if (exists && is_stream(path, old)) return write_to_stream(text, path);
    const std::string target = behind_links(path);
    // The superuser may write to anything: the mode says what its owner wanted.
    if (exists && ((old.st_mode & 0222) == 0 || ::access(target.c_str(), W_OK) != 0))
        give_up("the file is read-only", path, "make it writable, or save under another name");
    remove_leftovers(target);
    const std::string beside = target + "~part" + std::to_string(::getpid());
    auto leave = [&](const std::string& what, const std::string& mend) {
        ::unlink(beside.c_str());
        give_up(what, path, mend);
    };
    {
        const OpenFile out(beside, O_WRONLY | O_CREAT | O_TRUNC, exists ? 0600 : 0666);
        if (!out.is_open()) give_up(fault_of("writing beside it"), path, "choose a folder that you may write to");
        if (exists) {
            if (::fchown(out.fd(), old.st_uid, old.st_gid) != 0 && errno != EPERM)
                leave(fault_of("keeping its owner"), "save elsewhere; the old file is untouched");
            ::fchmod(out.fd(), old.st_mode & 07777);
        }
        if (!out.put(text)) leave(fault_of("writing"), "free some space or save elsewhere; the old file is untouched");
        if (::fsync(out.fd()) != 0) leave(fault_of("writing to the disk"), "save elsewhere; the old file is untouched");
    }
    if (exists && old.st_nlink > 1) return write_over(text, target, beside);
    if (::rename(beside.c_str(), target.c_str()) != 0)
        leave(fault_of("replacing the file"), "save under another name; the old file is untouched");
    flush_folder(target);
}

std::string read_text(const std::string& path) {
    struct stat st {};
    if (::stat(path.c_str(), &st) != 0) give_up(fault_of("opening"), path, "check the name and that you may read it");
    if (!S_ISREG(st.st_mode)) give_up("this is not a file", path, "name a file");
    if (st.st_size > 500'000'000) give_up("the file is larger than 500 MB", path, "name a file of a usual size");
    std::ifstream in(path, std::ios::binary);
    std::string text(size_t(st.st_size), '\0');
    in.read(text.data(), std::streamsize(text.size()));
    text.resize(size_t(std::max<std::streamsize>(0, in.gcount())));
    if (in.bad() || !in.is_open()) give_up(fault_of("reading"), path, "check that you may read it");
    return text;
}

}  // namespace mossbed
