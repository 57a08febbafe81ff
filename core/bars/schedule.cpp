#include "core/bars/schedule.h"

#include <fmt/format.h>
#include <unistd.h>
#include <xlsxwriter.h>

#include <cstdlib>
#include <filesystem>

#include "core/base/problem.h"
#include "core/file/text_file.h"

namespace mossbed {

const std::vector<std::string>& schedule_heads() {
    static const std::vector<std::string> heads{"mark",    "diameter_mm", "shape_code", "A_mm",      "B_mm",
                                                "C_mm",    "D_mm",        "E_mm",       "length_mm", "number",
                                                "total_m", "weight_kg",   "face",       "direction", "where"};
    return heads;
}

std::vector<std::vector<std::string>> schedule_rows(const LaidBars& list) {
    std::vector<std::vector<std::string>> out;
    for (const BarMark& m : list.marks) {
        std::vector<std::string> row{m.mark, fmt::format("{:g}", m.diameter), m.shape};
        for (double s : m.sides) row.push_back(s > 0 ? fmt::format("{:.0f}", s) : "");
        row.insert(row.end(),
                   {fmt::format("{:.0f}", m.length), std::to_string(m.number), fmt::format("{:.3f}", m.total_length()),
                    fmt::format("{:.3f}", m.kg()), m.face, m.direction, m.where});
        out.push_back(std::move(row));
    }
    return out;
}

std::string schedule_csv(const LaidBars& list) {
    std::string out;
    auto line = [&](const std::vector<std::string>& cells) {
        for (size_t i = 0; i < cells.size(); ++i) {
            const bool quote = cells[i].find_first_of(",\"\n") != std::string::npos;
            std::string text = cells[i];
            for (size_t k = 0; quote && (k = text.find('"', k)) != std::string::npos; k += 2) text.insert(k, 1, '"');
            out += (i ? "," : "") + (quote ? '"' + text + '"' : text);
        }
        out += '\n';
    };
    line(schedule_heads());
    for (const auto& row : schedule_rows(list)) line(row);
    return out;
}

namespace {

// A file name that nobody has, removed at the end.
class PassingFile {
  public:
    PassingFile() {
        path_ = (std::filesystem::temp_directory_path() / "mossbed-XXXXXX").string();
        const int file = mkstemp(path_.data());
        if (file < 0)
            throw Trouble({"no workbook could be made", path_, "make room in that folder", Severity::error, {}});
        close(file);
    }
    ~PassingFile() {
        std::error_code ignored;
        std::filesystem::remove(path_, ignored);
    }
    PassingFile(const PassingFile&) = delete;
    PassingFile& operator=(const PassingFile&) = delete;
    const std::string& path() const { return path_; }

  private:
    std::string path_;
};

bool is_number(const std::string& head) {
    return head != "mark" && head != "shape_code" && head != "face" && head != "direction" && head != "where";
}

}  // namespace

std::string schedule_xlsx(const LaidBars& list, const std::string& title, double concrete_m3) {
    const PassingFile file;
    lxw_workbook* book = workbook_new(file.path().c_str());
    lxw_format* bold = workbook_add_format(book);
    format_set_bold(bold);
    lxw_worksheet* sheet = workbook_add_worksheet(book, "bars");
    const auto& heads = schedule_heads();
    for (size_t c = 0; c < heads.size(); ++c) worksheet_write_string(sheet, 0, lxw_col_t(c), heads[c].c_str(), bold);
    const auto rows = schedule_rows(list);
    for (size_t r = 0; r < rows.size(); ++r)
        for (size_t c = 0; c < heads.size(); ++c) {
            const std::string& text = rows[r][c];
            if (text.empty()) continue;
            if (is_number(heads[c]))
                worksheet_write_number(sheet, lxw_row_t(r + 1), lxw_col_t(c), std::atof(text.c_str()), nullptr);
            else
                worksheet_write_string(sheet, lxw_row_t(r + 1), lxw_col_t(c), text.c_str(), nullptr);
        }
    worksheet_freeze_panes(sheet, 1, 0);
    worksheet_set_column(sheet, 0, lxw_col_t(heads.size() - 1), 12, nullptr);
    lxw_worksheet* sums = workbook_add_worksheet(book, "weights");
    worksheet_write_string(sums, 0, 0, title.c_str(), bold);
    lxw_row_t row = 2;
    auto line = [&](const std::string& name, double value, lxw_format* format) {
        worksheet_write_string(sums, row, 0, name.c_str(), format);
        worksheet_write_number(sums, row++, 1, value, format);
    };
    for (BarKind k : {BarKind::base, BarKind::extra, BarKind::at_rim, BarKind::trimmer, BarKind::link, BarKind::chair})
        line(fmt::format("{}, kg", name_of(k)), list.kg(k), nullptr);
    line("all bars, kg", list.kg(), bold);
    if (concrete_m3 > 0) {
        line("concrete, m³", concrete_m3, nullptr);
        line("kg/m³", list.kg() / concrete_m3, nullptr);
    }
    worksheet_set_column(sums, 0, 0, 26, nullptr);
    if (const lxw_error e = workbook_close(book); e != LXW_NO_ERROR)
        throw Trouble({fmt::format("no workbook could be made: {}", lxw_strerror(e)),
                       file.path(),
                       "make room in that folder",
                       Severity::error,
                       {}});
    return read_text(file.path());
}

}  // namespace mossbed
