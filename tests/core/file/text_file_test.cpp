// Writing must not harm: links, modes, pipes, read-only files, leftovers.
#include "core/file/text_file.h"

#include <gmock/gmock.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <thread>

#include "tests/core/helpers.h"

namespace mossbed {
namespace {

namespace fs = std::filesystem;
using ::testing::HasSubstr;

class TextFile : public ::testing::Test {
  protected:
    void SetUp() override {
        folder_ = fs::temp_directory_path() / ("mossbed-text-" + std::to_string(::getpid()));
        fs::create_directories(folder_);
    }
    void TearDown() override { fs::remove_all(folder_); }
    std::string path(const std::string& name) const { return (folder_ / name).string(); }
    std::string refusal(const std::string& name) const {
        try {
            save_text("new", path(name));
        } catch (const Trouble& t) {
            return t.problem.sentence();
        }
        return "written";
    }
    static mode_t mode_of(const std::string& p) {
        struct stat st {};
        ::stat(p.c_str(), &st);
        return st.st_mode & 07777;
    }
    fs::path folder_;
};

TEST_F(TextFile, ALinkStaysALinkAndWhatItLeadsToIsWritten) {
    fs::create_directories(path("deep"));
    save_text("old", path("deep/real.txt"));
    fs::create_symlink("deep/real.txt", path("near.txt"));
    fs::create_symlink("near.txt", path("far.txt"));
    save_text("new", path("far.txt"));
    EXPECT_TRUE(fs::is_symlink(path("far.txt")));
    EXPECT_TRUE(fs::is_symlink(path("near.txt")));
    EXPECT_EQ(read_text(path("deep/real.txt")), "new");
    fs::create_symlink("deep/not-there-yet.txt", path("open.txt"));
    save_text("first", path("open.txt"));
    EXPECT_EQ(read_text(path("deep/not-there-yet.txt")), "first");
    fs::create_symlink("round.txt", path("round.txt"));
    EXPECT_THAT(refusal("round.txt"), HasSubstr("circle"));
}

TEST_F(TextFile, KeepsTheModeAndASecondName) {
    save_text("old", path("a.txt"));
    ::chmod(path("a.txt").c_str(), 0600);
    save_text("new", path("a.txt"));
    EXPECT_EQ(mode_of(path("a.txt")), 0600u);
    fs::create_hard_link(path("a.txt"), path("b.txt"));
    save_text("both", path("a.txt"));
    EXPECT_EQ(read_text(path("b.txt")), "both");
    EXPECT_EQ(fs::hard_link_count(path("a.txt")), 2u);
    for (const auto& e : fs::directory_iterator(folder_))
        EXPECT_THAT(e.path().string(), ::testing::Not(HasSubstr("~part")));
}

TEST_F(TextFile, AReadOnlyFileAndAFolderAreRefusedWithASentence) {
    save_text("old", path("a.txt"));
    ::chmod(path("a.txt").c_str(), 0444);
    EXPECT_THAT(refusal("a.txt"), HasSubstr("read-only"));
    EXPECT_EQ(read_text(path("a.txt")), "old");
    fs::create_directories(path("folder"));
    EXPECT_THAT(refusal("folder"), HasSubstr("folder"));
    EXPECT_THAT(refusal("nowhere/a.txt"), HasSubstr("choose a folder"));
}

TEST_F(TextFile, APipeIsWrittenToAndStaysAPipe) {
    ASSERT_EQ(::mkfifo(path("pipe").c_str(), 0600), 0);
    std::string got;
    std::thread reader([&] {
        std::ifstream in(path("pipe"));
        std::getline(in, got);
    });
    save_text("through the pipe\n", path("pipe"));
    reader.join();
    EXPECT_EQ(got, "through the pipe");
    EXPECT_TRUE(fs::is_fifo(path("pipe")));
    save_text("gone", "/dev/null");
    EXPECT_TRUE(fs::is_character_file("/dev/null"));
}

TEST_F(TextFile, LeftoversOfTheDeadAreRemovedThoseOfTheLivingStay) {
    const pid_t child = ::fork();
    if (child == 0) ::_exit(0);
    ::waitpid(child, nullptr, 0);  // now nobody has that number
    const pid_t sibling = ::fork();
    if (sibling == 0) ::pause(), ::_exit(0);
    const std::string dead = path("a.txt~part" + std::to_string(child)), other_program = path("a.txt~part1"),
                      alive = path("a.txt~part" + std::to_string(sibling)), another = path("a.txt~particle");
    for (const std::string& p : {dead, alive, another, other_program}) std::ofstream(p) << "x";
    save_text("new", path("a.txt"));
    EXPECT_FALSE(fs::exists(dead));
    EXPECT_FALSE(fs::exists(other_program));  // the number went to somebody else
    EXPECT_TRUE(fs::exists(alive));
    EXPECT_TRUE(fs::exists(another));
    ::kill(sibling, SIGKILL);
    siginfo_t info;
    ::waitid(P_PID, id_t(sibling), &info, WEXITED | WNOWAIT);  // ended, but not yet noticed by its parent
    EXPECT_FALSE(is_running(sibling));
    ::waitpid(sibling, nullptr, 0);
    EXPECT_TRUE(is_running(::getpid()));
}

TEST_F(TextFile, TheStampTellsWhetherAnotherWroteIt) {
    EXPECT_FALSE(stamp_of(path("a.txt")));
    save_text("one", path("a.txt"));
    const auto before = stamp_of(path("a.txt"));
    EXPECT_EQ(before, stamp_of(path("a.txt")));
    save_text("two", path("a.txt"));  // of one size, maybe within one tick of the clock: another inode
    EXPECT_NE(before, stamp_of(path("a.txt")));
}

}  // namespace
}  // namespace mossbed
