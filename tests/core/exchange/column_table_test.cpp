// Tables of columns and loads as people write them, and a thousand spoilt ones.
#include "core/exchange/column_table.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

#include <chrono>
#include <random>

#include "core/file/text_encoding.h"

namespace mossbed {
namespace {

using ::testing::DoubleEq;
using ::testing::ElementsAre;
using ::testing::HasSubstr;

ColumnTable read(const std::string& text, const ColumnTableOptions& o = {}) {
    return read_column_table(read_cells(text), o);
}
std::optional<ColumnLoad> load(const ColumnTable& t, const std::string& column, const std::string& load_case) {
    for (const TableLoad& l : t.loads)
        if (l.load.column == column && l.load_case == load_case) return l.load;
    return {};
}
const TableColumnRow* row_of(const ColumnTable& t, const std::string& id) {
    for (const TableColumnRow& c : t.columns)
        if (c.id == id) return &c;
    return nullptr;
}
// Sentences of errors, one after the other.
std::string refused(const ColumnTable& t) {
    std::string out;
    for (const Problem& p : t.problems)
        if (p.severity == Severity::error) out += p.sentence() + "\n";
    return out;
}
std::string warned(const ColumnTable& t) {
    std::string out;
    for (const Problem& p : t.problems)
        if (p.severity == Severity::warning) out += p.sentence() + "\n";
    return out;
}

TEST(Numbers, AreReadByTheHabitOfTheirTable) {
    EXPECT_EQ(says_of_habit("1.234,5"), DecimalSign::comma);
    EXPECT_EQ(says_of_habit("1,234.5"), DecimalSign::point);
    EXPECT_EQ(says_of_habit("0,350"), DecimalSign::comma) << "no thousands begin with nought";
    EXPECT_EQ(says_of_habit("1,234,567"), DecimalSign::point);
    EXPECT_EQ(says_of_habit("12,3456"), DecimalSign::comma);
    EXPECT_EQ(says_of_habit("1.234"), DecimalSign::unknown);
    EXPECT_EQ(says_of_habit("475"), DecimalSign::unknown);
    const NumberHabit comma = habit_of({"1.234", "0,5", "475"}, ';');
    EXPECT_EQ(read_number("1.234", comma), 1234);
    EXPECT_EQ(read_number("-11,25", comma), -11.25);
    const NumberHabit mixed = habit_of({"0.5", "0,5", "1.234"}, ';');
    EXPECT_TRUE(mixed.is_mixed);
    EXPECT_EQ(read_number("0,5", mixed), 0.5);
    EXPECT_EQ(read_number("0.5", mixed), 0.5);
    EXPECT_FALSE(read_number("1.234", mixed)) << "nobody knows";
}

TEST(Numbers, KnowSignsGroupsAndExponentsAndRefuseTheRest) {
    const NumberHabit point;
    EXPECT_EQ(read_number("\u2212"
                          "22",
                          point),
              -22);
    EXPECT_EQ(read_number("1\u00A0"
                          "234.5",
                          point),
              1234.5);
    EXPECT_EQ(read_number("1\u202F"
                          "234\u202F"
                          "567",
                          point),
              1234567);
    EXPECT_EQ(read_number("12'500", point), 12500);
    EXPECT_EQ(read_number("1.5E+03", point), 1500);
    EXPECT_EQ(read_number("+3", point), 3);
    EXPECT_EQ(read_number(".5", point), 0.5);
    for (const char* bad : {"12O5", "eins", "#REF!", "1 23", "1 2345", "1,23.4", "--5", "5-", "1e", "", ".", "nan",
                            "inf", "0x10", "1.2.3", "1e999", "5 6"})
        EXPECT_FALSE(read_number(bad, point)) << bad;
    EXPECT_EQ(number_and_rest("475 kN")->second, "kN");
    EXPECT_EQ(number_and_rest("12O5")->second, "O5");
}

TEST(Cells, QuotesSeparatorsAndLineEndsAreThoseOfTheFile) {
    const CellTable t = read_cells("id;\"a;b\";c\r\n\"he said \"\"no\"\"\"; 2 ;\r\n");
    EXPECT_EQ(t.separator, ';');
    EXPECT_THAT(t.rows[0].cells, ElementsAre("id", "a;b", "c"));
    EXPECT_THAT(t.rows[1].cells, ElementsAre("he said \"no\"", "2", ""));
    EXPECT_EQ(t.rows[1].line, 2);
    const CellTable lines = read_cells("\"size\n(mm)\",x\n400,1\n");
    EXPECT_THAT(lines.rows[0].cells, ElementsAre("size (mm)", "x"));
    EXPECT_EQ(lines.rows[1].line, 3) << "of the file";
    EXPECT_EQ(read_cells("sep=|\na|b\n").separator, '|');
    EXPECT_THAT(read_cells("16\",24\"\n").rows[0].cells, ElementsAre("16\"", "24\"")) << "inches";
    EXPECT_TRUE(read_cells("").rows.empty());
}

TEST(ColumnTable, WideHeadsNameCaseAndComponentInAnyOrderAndWriting) {
    for (const char* head :
         {"G N", "N G", "N (G)", "G:N", "G_N", "G (N)", "Fz G", "G P", "G - N", "G N [kN]", "G axial"}) {
        const ColumnTable t = read(std::string("id,x,y,size,") + head + ",Q N\nC1,1,2,400x400,475,180\n");
        ASSERT_EQ(refused(t), "") << head;
        ASSERT_TRUE(load(t, "C1", "G")) << head;
        EXPECT_EQ(load(t, "C1", "G")->N, 475) << head;
        EXPECT_EQ(load(t, "C1", "Q")->N, 180) << head;
    }
    // A case may be called like a component; the others show the order.
    const ColumnTable t = read("id,x,y,N G,N P,My P\nC1,0,0,1,2,3\n");
    EXPECT_EQ(load(t, "C1", "P")->N, 2);
    EXPECT_EQ(load(t, "C1", "P")->My, 3);
    const ColumnTable wind = read("id,x,y,W+x N,W-x N\nC1,0,0,1,2\n");
    EXPECT_THAT(wind.cases, ElementsAre("W+x", "W-x"));
}

TEST(ColumnTable, CasesMayStandInARowOverTheirComponents) {
    const ColumnTable t = read(",,,,G,,,Q,,\nid,x,y,size,N,Mx,My,N,Mx,My\nC1,0,0,400x400,10,1,2,20,3,4\n");
    EXPECT_EQ(load(t, "C1", "G")->My, 2);
    EXPECT_EQ(load(t, "C1", "Q")->N, 20);
    EXPECT_EQ(load(t, "C1", "Q")->Mx, 3);
}

TEST(ColumnTable, UnitsComeFromHeadsThenTheRowBelowThenOptions) {
    const ColumnTable t =
        read("Mark,X (in),Y (ft),Width (in),Depth (in),D P (kip),D Mx (kip-ft)\nF1,48,4,16,24,106.8,9.2\n");
    EXPECT_NEAR(row_of(t, "F1")->at->x, 1.2192, 1e-12);
    EXPECT_NEAR(row_of(t, "F1")->at->y, 1.2192, 1e-12);
    EXPECT_NEAR(row_of(t, "F1")->size[1], 0.6096, 1e-12);
    EXPECT_NEAR(load(t, "F1", "D")->N, 475.0701, 1e-4);  // 4.4482216 kN a kip
    EXPECT_NEAR(load(t, "F1", "D")->Mx, 12.473525, 1e-6);
    const ColumnTable below = read("id;x;y;size;G N;G Mx\n;mm;mm;mm;MN;kNm\nC1;1200;0;400x600;0,5;3\n");
    EXPECT_NEAR(row_of(below, "C1")->at->x, 1.2, 1e-12);
    EXPECT_NEAR(load(below, "C1", "G")->N, 500, 1e-9);
    ColumnTableOptions o;
    o.length = unit_of("mm"), o.force = unit_of("kip");
    const ColumnTable by_option = read("id,x,y [m],width,depth,G N,G Mx,G Hx [kN]\nC1,1200,2,400,500,10,10,10\n", o);
    EXPECT_NEAR(row_of(by_option, "C1")->at->x, 1.2, 1e-12);
    EXPECT_NEAR(row_of(by_option, "C1")->at->y, 2, 1e-12) << "a head goes before an option";
    EXPECT_NEAR(load(by_option, "C1", "G")->Mx, 10 * 4.4482216152605 * 0.3048, 1e-9) << "kip × ft";
    EXPECT_NEAR(load(by_option, "C1", "G")->Hx, 10, 1e-12);
    const ColumnTable in_cells = read("id,x,y,width,depth,G N\nC1,6000 mm,0 m,40 cm,0.6,1 MN\n");
    EXPECT_NEAR(row_of(in_cells, "C1")->at->x, 6, 1e-12);
    EXPECT_NEAR(row_of(in_cells, "C1")->size[0], 0.4, 1e-12);
    EXPECT_NEAR(load(in_cells, "C1", "G")->N, 1000, 1e-9);
    EXPECT_THAT(refused(read("id,x [kN],y\nC1,0,0\n")), HasSubstr("the unit kN of \"x [kN]\" does not fit"));
}

TEST(ColumnTable, SizesAreReadByTheirNumbers) {
    const NumberHabit point;
    auto size = [&](const std::string& text, bool is_round = false, std::optional<WrittenUnit> u = {}) {
        TableColumnRow c;
        EXPECT_EQ(read_size(text, point, u, is_round, c), "") << text;
        return c;
    };
    EXPECT_THAT(size("400x600").size, ElementsAre(0.4, 0.6));
    EXPECT_THAT(size("0.4/0.6").size, ElementsAre(0.4, 0.6));
    EXPECT_THAT(size("300×900").size, ElementsAre(0.3, 0.9));
    EXPECT_THAT(size("40 x 60 cm").size, ElementsAre(0.4, 0.6));
    EXPECT_THAT(size("16x24", false, unit_of("in")).size, ElementsAre(DoubleEq(0.4064), DoubleEq(0.6096)));
    EXPECT_THAT(size("450").size, ElementsAre(0.45, 0.45));
    EXPECT_THAT(size("450", true).size, ElementsAre(0.45));
    for (const char* round : {"Ø500", "ø 500", "D500", "dia 500 mm", "⌀0.5"}) {
        EXPECT_THAT(size(round).size, ElementsAre(0.5)) << round;
        EXPECT_EQ(size(round).shape, ColumnShape::circle) << round;
    }
    TableColumnRow c;
    EXPECT_THAT(read_size("40x60", point, {}, false, c), HasSubstr("may be mm, cm or inches"));
    for (const char* bad : {"IPE300", "400x", "400x600x2", "-400x600", "0x400", "Ø", "Ø400x500", "400 kN"})
        EXPECT_NE(read_size(bad, point, {}, false, c), "") << bad;
}

TEST(ColumnTable, ReactionsAreTurnedRoundButForN) {
    ColumnTableOptions o;
    o.are_reactions = true;
    const ColumnTable t = read("Joint,Case,x,y,Fx,Fy,Fz,Mx,My,Mz\n21,DL,0,0,4.5,-2,512.25,10,-6,7\n", o);
    const ColumnLoad l = *load(t, "21", "DL");
    EXPECT_EQ(l.N, 512.25);
    EXPECT_EQ(l.Hx, -4.5);
    EXPECT_EQ(l.Hy, 2);
    EXPECT_EQ(l.Mx, -10);
    EXPECT_EQ(l.My, 6);
    EXPECT_THAT(warned(t), HasSubstr("\"Mz\""));
}

TEST(ColumnTable, MergedCellsBelongToTheRowAboveUnlessThatWasRefused) {
    const ColumnTable t =
        read("Column;x;y;Size;Case;N\nC1;1,2;1,2;400x600;G;475\n;;;;Q;180\nC2;eins;1,2;400x600;G;810\n;;;;Q;322\n");
    EXPECT_EQ(load(t, "C1", "Q")->N, 180);
    EXPECT_EQ(t.loads.size(), 2u);
    EXPECT_THAT(refused(t), HasSubstr("line 4: column C2: x is \"eins\", which is not a number"));
    EXPECT_THAT(refused(t), HasSubstr("line 5: it names no column"));
}

TEST(ColumnTable, WhatComesTwiceIsRefusedByLineAndNeverSummed) {
    const ColumnTable t = read("column,x,y,case,N\nC1,1,1,G,475\nC1,1,1,Q,180\nC1,1,1,G,475\nC1,2,1,W,5\nC2,1,1,G,1\n");
    EXPECT_EQ(load(t, "C1", "G")->N, 475);
    EXPECT_THAT(refused(t), HasSubstr("line 4: column C1: case G was given in line 2 already"));
    EXPECT_THAT(refused(t), HasSubstr("line 5: column C1: it stood at (1, 1) in line 2"));
    EXPECT_THAT(refused(t), HasSubstr("line 6: column C2: it stands where column C1 stands"));
    EXPECT_FALSE(row_of(t, "C2"));
    EXPECT_THAT(refused(read("id,x,y,G N\nC1,0,0,1\nC1,0,0,1\n")), HasSubstr("line 3: column C1"));
    EXPECT_THAT(refused(read("id,x,y,G N,N (G)\nC1,0,0,1,2\n")), HasSubstr("would both be G N"));
}

TEST(ColumnTable, TotalsRowsAreNoColumnsAndAreComparedWithWhatWasTaken) {
    const ColumnTable t = read("id,x,y,G N,Q N\nC1,1,1,475,180\nC2,6,1,810,322\n\nTotal,,,1285,600\n");
    EXPECT_EQ(t.columns.size(), 2u);
    ASSERT_EQ(t.totals.size(), 2u);
    EXPECT_TRUE(t.totals[0].agree());
    EXPECT_FALSE(t.totals[1].agree());
    EXPECT_THAT(warned(t),
                HasSubstr("line 5: a row of totals, not a column; it differs from what was taken: Q N 600, taken 502"));
    EXPECT_FALSE(t.anything_left_out());
}

TEST(ColumnTable, RowsOfAnotherLengthAreRefusedSinceNumbersWouldShift) {
    const ColumnTable t = read("id,x,y,G N,Q N\nC1,1,1,475,180\nC2,6,1,1,234.5,322\nC3,9,1,810322\nC4,12,1,5,6\n");
    EXPECT_EQ(t.columns.size(), 2u);
    EXPECT_THAT(refused(t), HasSubstr("line 3: it has 6 cells where the heads are 5"));
    EXPECT_THAT(refused(t), HasSubstr("line 4: it has 4 cells"));
    EXPECT_THAT(refused(read("id,x,y,G N\nC1,1,1,475\nC2,6,1")), HasSubstr("line 3: the row is cut off"));
    EXPECT_THAT(warned(read("id,x,y,G N\nC1,1,1,475\nC2,6,1,47")), HasSubstr("ends without a line end"));
}

TEST(ColumnTable, NumbersBeyondAllMeaningAreNone) {
    const ColumnTable t = read("id,x,y,G N\nC1,1,1e300,475\nC2,6,1,9e15\nC3,6,1,1e5\n");
    EXPECT_EQ(t.columns.size(), 1u);
    EXPECT_THAT(refused(t), HasSubstr("line 2: column C1: y is \"1e300\""));
}

TEST(ColumnTable, NothingIsGuessedWithoutHeads) {
    for (const char* text : {"", "12;4;5\n7;8;9\n", "\n\n\n", "hello\n", "id\n", "a,b,c\n1,2,3\n", "x,y,G N\n1,2,3\n",
                             "id,x,G N\nC1,2,3\n"}) {
        const ColumnTable t = read(text);
        EXPECT_TRUE(t.none()) << text;
        EXPECT_NE(refused(t), "") << text;
    }
}

TEST(ColumnTable, WhatAColumnWasTakenForCanBeChanged) {
    const std::string text = "id,x,y,G,level\nC1,1,2,475,-0.9\n";
    ColumnTable t = read(text);
    EXPECT_TRUE(t.loads.empty());
    ColumnTableOptions o;
    o.heads = t.heads.heads;
    o.heads[3].holds = Holds::N, o.heads[3].load_case = "G", o.heads[3].unit = unit_of("MN");
    t = read(text, o);
    EXPECT_NEAR(load(t, "C1", "G")->N, 475000, 1e-6);
}

TEST(ColumnTable, TwentyThousandRowsTakeNoTime) {
    std::string text = "id;x;y;size;case;N;Mx\n";
    for (int i = 0; i < 500; ++i)
        for (int k = 0; k < 40; ++k)
            text += "K" + std::to_string(i) + ";" + std::to_string(i % 25 * 6) + ",25;" + std::to_string(i / 25 * 5) +
                    ";400x500;L" + std::to_string(k) + ";" + std::to_string(300 + i) + ",5;" + std::to_string(k) + "\n";
    const ColumnTable t = read(text);
    EXPECT_EQ(t.columns.size(), 500u);
    EXPECT_EQ(t.loads.size(), 20000u);
    EXPECT_EQ(refused(t), "");
    EXPECT_EQ(load(t, "K499", "L39")->N, 799.5);
}

TEST(ColumnTable, ALineEndWithinANumberIsToldByTheLineThatItMakes) {
    const ColumnTable t = read("id,x,y,G N\nC1,1,1,4.\n5\nC2,6,1,7\n");
    EXPECT_THAT(refused(t), HasSubstr("line 3: it has 1 cells where the heads are 4"));
    EXPECT_EQ(load(t, "C2", "G")->N, 7);
}

// Whatever is done to a table: no crash, and a number that is taken is the one that stood there, but for digits
// themselves.
TEST(ColumnTable, OfAThousandSpoiltTablesNoNumberIsTakenWrongly) {
    const std::string wide =
        "id;x;y;width;depth;G N;G Mx;Q N\nC1;1,25;1,5;0,4;0,4;475,5;12,25;180,75\n"
        "C2;6,75;1,5;0,4;0,6;810,25;-8,5;322,5\nC3;1,25;7,5;0,5;0,5;390,75;4,25;140,25\n"
        "C4;6,75;7,5;0,5;0,5;655,5;-3,75;260,5\n";
    const std::string narrow =
        "Column,x,y,Size,Case,N,My\nC1,1.25,1.5,400x600,G,475.5,12.25\nC1,1.25,1.5,400x600,Q,180.75,4.5\n"
        "C2,6.75,1.5,400x600,G,810.25,-8.5\nC2,6.75,1.5,400x600,Q,322.5,1.25\n";
    std::mt19937 random(2026);
    auto upto = [&](size_t n) { return size_t(random() % n); };
    int taken_whole = 0;
    for (int trial = 0; trial < 2000; ++trial) {
        const std::string& sound = trial % 2 ? wide : narrow;
        const ColumnTable before = read(sound);
        std::string text = sound;
        const int way = int(upto(9));
        const size_t at = upto(text.size());
        auto sign = [&](const std::string& of) {
            size_t k = at;
            while (k < text.size() && of.find(text[k]) == of.npos) ++k;
            return k;
        };
        const char separator = trial % 2 ? ';' : ',';
        switch (way) {
            case 0:
                text.insert(at, 1, "abcxyzO#?\"'"[upto(11)]);
                break;
            case 1:
                if (const size_t k = sign({separator}); k < text.size()) text.erase(k, 1);
                break;
            case 2:
                text.insert(at, 1, '"');
                break;
            case 3: {  // a line twice
                const size_t from = text.find('\n', at), to = from == text.npos ? from : text.find('\n', from + 1);
                if (to != text.npos) text.insert(to, text.substr(from, to - from));
                break;
            }
            case 4:
                text.resize(at);
                break;
            case 5:
                text.insert(at, 1, separator);
                break;
            case 6:
                text.insert(at, 1, "\x01\x02\x07\x08\x0b\x0c\x1b\x1f"[upto(8)]);
                break;
            case 7:
                if (const size_t k = sign("\n"); k < text.size()) text.erase(k, 1);
                break;
            default:
                text.insert(at, std::string("\xFF\xFE\x00\x01", 4));
        }
        const ColumnTable t = read(as_utf8(text));
        const bool told = !t.problems.empty(), left = told || t.cases != before.cases;  // it went to another case
        for (const TableLoad& l : t.loads) {
            const auto was = load(before, l.load.column, l.load_case);
            if (!was) continue;  // a name was spoilt, which nobody can know
            // Cut within its last number, the last row is said to want a look.
            if (way == 4 && l.line == t.loads.back().line &&
                warned(t).find(fmt::format("line {}: it ends without a line end", l.line)) != std::string::npos)
                continue;
            for (auto of : {&ColumnLoad::N, &ColumnLoad::Mx, &ColumnLoad::My})
                EXPECT_TRUE(l.load.*of == *was.*of || (left && l.load.*of == 0)) << "way " << way << "\n"
                                                                                 << text << "\n"
                                                                                 << l.load.column << " " << l.load_case;
            if (::testing::Test::HasFailure()) return;
        }
        taken_whole += t.loads.size() == before.loads.size() && !told;
    }
    EXPECT_LT(taken_whole, 700) << "most of them are spoilt in earnest";
}

}  // namespace
}  // namespace mossbed
