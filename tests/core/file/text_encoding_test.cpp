#include "core/file/text_encoding.h"

#include <gtest/gtest.h>

namespace mossbed {
namespace {

TEST(Encoding, TextOfOtherProgramsBecomesUtf8) {
    EXPECT_EQ(as_utf8("35° µm – α"), "35° µm – α");
    EXPECT_EQ(as_utf8("\xEF\xBB\xBF"
                      "x"),
              "x");
    EXPECT_EQ(as_utf8("35\xB0 friction, 200 \xB5m"), "35° friction, 200 µm");  // Latin-1
    EXPECT_EQ(as_utf8("\x80 5 \x96 6"), "€ 5 – 6");                            // Windows-1252
    EXPECT_EQ(as_utf8(std::string("\xFF\xFE"
                                  "a\0\xB0\0\x3D\xD8\x00\xDE",
                                  10)),
              "a°\xF0\x9F\x98\x80");  // UTF-16, a pair
    EXPECT_EQ(as_utf8(std::string("\xFE\xFF\0a\0\xB0", 6)), "a°");
    EXPECT_EQ(as_utf8(std::string("i\0d\0;\0x\0\n\0", 10)), "id;x\n");  // without a mark
    EXPECT_EQ(as_utf8(std::string("\0i\0d\0;\0x\0\n", 10)), "id;x\n");
    EXPECT_EQ(as_utf8(std::string("a\0b", 3)), std::string("a\0b", 3));  // too little to say
    EXPECT_EQ(as_utf8(""), "");
}

TEST(Encoding, HalfSignsAndLongFormsAreNoUtf8) {
    EXPECT_TRUE(is_utf8("plain"));
    EXPECT_FALSE(is_utf8("\xC2"));
    EXPECT_FALSE(is_utf8("\xC0\xAF"));
    EXPECT_FALSE(is_utf8("\xE0\x80\xAF"));
    EXPECT_FALSE(is_utf8("\xED\xA0\x80"));
    EXPECT_FALSE(is_utf8("\xF5\x80\x80\x80"));
}

}  // namespace
}  // namespace mossbed
