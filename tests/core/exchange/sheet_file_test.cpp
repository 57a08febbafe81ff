// Spreadsheet files of both kinds, whole and damaged.
#include "core/exchange/sheet_file.h"

#include <gmock/gmock.h>

#include <random>

#include "core/exchange/column_table.h"
#include "core/file/text_file.h"

namespace mossbed {
namespace {

using ::testing::ElementsAre;
using ::testing::HasSubstr;

std::string bytes_of(const std::string& name) {
    return read_text(std::string(SOURCE_DIR "/tests/data/tables/") + name);
}

TEST(SheetFile, TheFirstSheetOfAWorkbookIsReadWithItsSavedValues) {
    const CellTable t = read_table_file(bytes_of("reactions.xlsx"));
    ASSERT_EQ(t.rows.size(), 7u);
    EXPECT_THAT(t.rows[2].cells, ElementsAre("id", "x [m]", "y [m]", "size", "G N"));
    EXPECT_THAT(t.rows[3].cells, ElementsAre("C1", "1.2340", "0", "400x600", "475.5")) << "reads in one way only";
    EXPECT_THAT(t.rows[4].cells, ElementsAre("C2", "6", "0", "500", "951")) << "of the formula the value";
    const ColumnTable c = read_column_table(t);
    ASSERT_EQ(c.columns.size(), 2u);
    EXPECT_EQ(c.columns[0].at->x, 1.234);
    std::string said;
    for (const Problem& p : c.problems) said += p.sentence() + "\n";
    EXPECT_THAT(said, HasSubstr("line 6: column C3: G N is \"#DIV/0!\", which is not a number"));
    EXPECT_THAT(said, HasSubstr("line 7: column C4: G N is \"=E4+E5\", which is not a number"));
}

TEST(SheetFile, AnOpenDocumentIsReadWithItsRepeatedRows) {
    const CellTable t = read_table_file(bytes_of("reactions.ods"));
    ASSERT_EQ(t.rows.size(), 5u) << "a million empty rows below are none";
    EXPECT_THAT(t.rows[1].cells, ElementsAre("C1", "1.2340", "0", "400x600", "475.5"));
    EXPECT_THAT(t.rows[4].cells, ElementsAre("C2", "6", "0", "500", "951"));
    const ColumnTable c = read_column_table(t);
    EXPECT_EQ(c.columns.size(), 2u);
    EXPECT_FALSE(c.anything_left_out());
}

TEST(SheetFile, WhatIsNoTableIsRefusedByName) {
    auto refusal = [](const std::string& bytes) {
        try {
            read_table_file(bytes);
        } catch (const Trouble& t) {
            return t.problem.sentence();
        }
        return std::string();
    };
    EXPECT_THAT(refusal(bytes_of("packed.zip")), HasSubstr("a packed file and no spreadsheet"));
    EXPECT_THAT(refusal("\xD0\xCF\x11\xE0 …"), HasSubstr("old binary kind (.xls)"));
    EXPECT_THAT(refusal("%PDF-1.7"), HasSubstr("PDF"));
}

TEST(SheetFile, CutAndSpoiltFilesAreRefusedOrReadNeverACrash) {
    std::mt19937 random(7);
    int refused = 0;
    for (const char* name : {"reactions.xlsx", "reactions.ods"}) {
        const std::string sound = bytes_of(name);
        for (int k = 0; k < 300; ++k) {
            std::string b = sound;
            if (k % 3 == 0)
                b.resize(random() % b.size());
            else
                b[random() % b.size()] = char(random());
            try {
                read_column_table(read_table_file(b));
            } catch (const Trouble& t) {
                EXPECT_FALSE(t.problem.mend.empty());
                ++refused;
            }
        }
    }
    EXPECT_GT(refused, 200);
}

}  // namespace
}  // namespace mossbed
