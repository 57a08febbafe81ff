// Two pieces of work at once: each is done whole, whatever becomes of the other, and what is thrown is always the same.
#include "core/base/both.h"

#include <gtest/gtest.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <atomic>
#include <stdexcept>
#include <string>

namespace mossbed {
namespace {

// As much as a loop over all cores does.
int counted(int n) {
    std::atomic<int> sum{0};
    tbb::parallel_for(0, n, [&](int) { ++sum; });
    return sum;
}

std::string thrown_by(const auto& work) {
    try {
        work();
    } catch (const std::runtime_error& e) {
        return e.what();
    }
    return "";
}

TEST(Both, AreDoneWholeThoughOneThrows) {
    for (int cores : {1, 2, 4})
        tbb::task_arena(cores).execute([&] {
            for (int i = 0; i < 50; ++i) {
                int first = 0, second = 0;
                EXPECT_EQ(thrown_by([&] {
                              both([] { throw std::runtime_error("first"); }, [&] { second = counted(2000); });
                          }),
                          "first");
                EXPECT_EQ(second, 2000);
                EXPECT_EQ(thrown_by([&] {
                              both([&] { first = counted(2000); }, [] { throw std::runtime_error("second"); });
                          }),
                          "second");
                EXPECT_EQ(first, 2000);
            }
        });
}

TEST(Both, TellOfTheFirstWhereBothThrow) {
    for (int i = 0; i < 200; ++i)
        EXPECT_EQ(thrown_by([] {
                      both(
                          [] {
                              counted(3000);
                              throw std::runtime_error("first");
                          },
                          [] { throw std::runtime_error("second"); });
                  }),
                  "first");
}

TEST(Both, AreDoneWholeInWorkThatIsBeingStopped) {
    tbb::task_group_context group;
    int first = 0, second = 0;
    tbb::parallel_for(
        0, 1,
        [&](int) {
            group.cancel_group_execution();
            both([&] { first = counted(500); }, [&] { second = counted(700); });
        },
        tbb::simple_partitioner(), group);
    EXPECT_EQ(first, 500);
    EXPECT_EQ(second, 700);
}

}  // namespace
}  // namespace mossbed
