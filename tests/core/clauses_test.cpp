// docs/codes.md says which clauses are covered as the tests themselves say it. A test says so in the comment above it:
//   Clause: EN 1992-1-1 | 6.4.5(3) | face of interior, edge and corner columns
// or, of a whole suite, above its first test, "Clauses: …". A second test of the same clause needs no third part.
// With MOSSBED_WRITE_CODES=1 the tables are written anew.
#include <gtest/gtest.h>

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>
#include <regex>
#include <sstream>

namespace {

namespace fs = std::filesystem;

struct Covered {
    std::string standard, clause, what;
    std::vector<std::string> tests;
};

std::string trimmed(const std::string& s) {
    const size_t a = s.find_first_not_of(' '), b = s.find_last_not_of(' ');
    return a == std::string::npos ? "" : s.substr(a, b - a + 1);
}

// "6.4.5(3)" before "6.4.10"; what begins with a letter last.
std::vector<double> order_of(const Covered& c) {
    static const std::regex number(R"((\d+))");
    std::vector<double> key{c.standard.starts_with("EN ") ? 0.0 : 1.0, std::isdigit(c.clause[0]) ? 0.0 : 1.0};
    for (std::sregex_iterator i(c.clause.begin(), c.clause.end(), number), end; i != end; ++i)
        key.push_back(std::stod((*i)[1]));
    return key;
}

std::vector<Covered> all_tags() {
    std::map<std::pair<std::string, std::string>, Covered> found;
    std::vector<fs::path> files;
    for (const auto& e : fs::recursive_directory_iterator(SOURCE_DIR "/tests"))
        if (e.path().extension() == ".cpp" && e.path().filename() != "clauses_test.cpp") files.push_back(e.path());
    std::sort(files.begin(), files.end());
    const std::regex tag(R"(^// (Clauses?): (.*)$)"), more(R"(^// (.*)$)"),
        test(R"(^TEST(?:_F|_P)?\((\w+), (\w+)\).*)");
    for (const fs::path& file : files) {
        std::ifstream in(file);
        std::vector<std::pair<bool, std::string>> open;  // of a suite or of one test
        bool within = false;
        for (std::string line; std::getline(in, line);) {
            std::smatch m;
            if (std::regex_match(line, m, tag)) {
                open.push_back({m[1] == "Clauses", m[2]}), within = true;
            } else if (within && std::regex_match(line, m, more)) {
                open.back().second += " " + m[1].str();
            } else if (std::regex_match(line, m, test)) {
                for (const auto& [suite, text] : open) {
                    std::stringstream parts(text);
                    std::string standard, clause, what;
                    std::getline(parts, standard, '|'), std::getline(parts, clause, '|'), std::getline(parts, what);
                    Covered& c = found[{trimmed(standard), trimmed(clause)}];
                    c.standard = trimmed(standard), c.clause = trimmed(clause);
                    if (!trimmed(what).empty()) c.what = trimmed(what);
                    c.tests.push_back(suite ? m[1].str() : m[1].str() + "." + m[2].str());
                }
                open.clear(), within = false;
            } else {
                EXPECT_TRUE(open.empty()) << file << ": no test follows " << open.back().second;
                open.clear(), within = false;
            }
        }
    }
    std::vector<Covered> out;
    for (auto& [key, c] : found) out.push_back(std::move(c));
    std::stable_sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return order_of(a) < order_of(b); });
    return out;
}

// The rows of one table: the standard itself, and others that stand beside it.
std::string table(const std::vector<Covered>& all, const std::string& standard, const std::string& title) {
    std::string out = "| " + title + " | what | tests |\n|---|---|---|\n";
    const std::string number = standard.substr(standard.find(' ') + 1);
    for (const Covered& c : all) {
        if (c.standard.find(number) == std::string::npos) continue;
        out += "| " + (c.standard == standard ? c.clause : c.standard + " " + c.clause) + " | " + c.what + " | ";
        for (size_t k = 0; k < c.tests.size(); ++k) out += (k ? ", `" : "`") + c.tests[k] + "`";
        out += " |\n";
    }
    return out;
}

TEST(Clauses, TheListOfThemIsWhatTheTestsSay) {
    const std::string path = SOURCE_DIR "/docs/codes.md";
    std::ifstream in(path);
    const std::string text{std::istreambuf_iterator<char>(in), {}};
    const auto all = all_tags();
    ASSERT_GT(all.size(), 20u);
    std::string made = text;
    for (const auto& [standard, title] :
         {std::pair{"EN 1992-1-1", "EN 1992-1-1:2004 with A1:2014"}, std::pair{"EN 1997-1", "EN 1997-1:2004"}}) {
        const std::string head = std::string("| ") + title + " |";
        const size_t from = made.find(head), to = made.find("\n\n", from);
        ASSERT_NE(from, std::string::npos) << title;
        made.replace(from, to - from + 1, table(all, standard, title));
    }
    if (std::getenv("MOSSBED_WRITE_CODES")) std::ofstream(path) << made;
    EXPECT_EQ(made, text) << "write it anew with MOSSBED_WRITE_CODES=1";
}
TEST(Clauses, EachHasItsWordsAndIsOfATestNamedAfterItOrOfTheWhole) {
    for (const Covered& c : all_tags()) {
        EXPECT_FALSE(c.what.empty()) << c.standard << " " << c.clause;
        EXPECT_TRUE(c.standard.starts_with("EN ") || c.standard.starts_with("ENV ") ||
                    c.standard.starts_with("DIN EN "))
            << c.standard;
        for (const std::string& t : c.tests) {
            const std::string suite = t.substr(0, t.find('.'));
            const auto& unit = *testing::UnitTest::GetInstance();
            bool is_there = false;
            for (int k = 0; k < unit.total_test_suite_count() && !is_there; ++k) {
                const auto& s = *unit.GetTestSuite(k);
                if (s.name() != suite) continue;
                is_there = suite == t;
                for (int i = 0; i < s.total_test_count(); ++i) is_there |= suite + "." + s.GetTestInfo(i)->name() == t;
            }
            EXPECT_TRUE(is_there) << t;
        }
    }
}

}  // namespace
