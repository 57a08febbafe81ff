// Numbers as people and spreadsheets write them. Which of point and comma is the decimal sign is the table's habit: it
// is found over all of its cells, since "1,250" alone may be 1.25 or 1250.
#pragma once
#include <optional>
#include <string>
#include <vector>

namespace mossbed {

// What a single text says of the habit.
enum class DecimalSign : char { unknown, point, comma };
DecimalSign says_of_habit(const std::string& text);

struct NumberHabit {
    DecimalSign decimal = DecimalSign::point;
    bool is_mixed = false;  // some cells say point and some comma: those are read as they say, the doubtful not at all
    bool is_sure = false;   // some cell said so
};
// `separator`: of the table; where that is a comma, a comma in a number is the rarer thing.
NumberHabit habit_of(const std::vector<std::string>& texts, char separator);

// A number with nothing after it: signs, thousands in groups of three (blanks, apostrophes, the other sign), exponents.
// Nothing where it is none, is not finite or, in a mixed table, may be read in two ways.
std::optional<double> read_number(const std::string& text, const NumberHabit& habit);
// It reads both ways, as "1,250" does.
bool reads_both_ways(const std::string& text);
// The number and what follows it: {"475", "kN"}; nothing where it does not begin with a number.
std::optional<std::pair<std::string, std::string>> number_and_rest(const std::string& text);

}  // namespace mossbed
