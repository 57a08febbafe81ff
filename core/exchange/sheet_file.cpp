#include "core/exchange/sheet_file.h"

#include <fmt/format.h>
#include <zip.h>

#include <charconv>
#include <pugixml.hpp>

#include "core/file/text_encoding.h"

namespace mossbed {
namespace {

[[noreturn]] void fail(std::string what, std::string mend) {
    throw Trouble({std::move(what), "the spreadsheet", std::move(mend), Severity::error, {}});
}

constexpr long most_rows = 200000, most_columns = 2000;
constexpr size_t most_bytes = size_t(400) << 20;  // of one part, unpacked

// The packed parts of a file by name.
class Package {
  public:
    explicit Package(const std::string& bytes) {
        zip_error_t error;
        zip_error_init(&error);
        zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
        if (source) zip_ = zip_open_from_source(source, ZIP_RDONLY, &error);
        if (!zip_ && source) zip_source_free(source);
        zip_error_fini(&error);
        if (!zip_) fail("it cannot be unpacked", "it is cut off or damaged; save it anew");
    }
    ~Package() { zip_discard(zip_); }
    Package(const Package&) = delete;
    Package& operator=(const Package&) = delete;
    bool has(const std::string& name) const { return zip_name_locate(zip_, name.c_str(), 0) >= 0; }
    std::string part(const std::string& name) const {
        zip_stat_t stat;
        if (zip_stat(zip_, name.c_str(), 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
            fail(fmt::format("its part {} is missing", name), "save it anew");
        if (stat.size > most_bytes) fail(fmt::format("its part {} is too large", name), "keep the table only");
        zip_file_t* f = zip_fopen(zip_, name.c_str(), 0);
        if (!f) fail(fmt::format("its part {} cannot be unpacked", name), "save it anew, without a password");
        std::string out(size_t(stat.size), '\0');
        const zip_int64_t n = zip_fread(f, out.data(), out.size());
        const bool sound = zip_fclose(f) == 0 && n == zip_int64_t(out.size());
        if (!sound) fail(fmt::format("its part {} is damaged", name), "save it anew");
        return out;
    }

  private:
    zip_t* zip_ = nullptr;
};

pugi::xml_document parsed(const Package& p, const std::string& name) {
    pugi::xml_document out;
    const std::string text = p.part(name);
    if (const auto result = out.load_buffer(text.data(), text.size(), pugi::parse_default | pugi::parse_ws_pcdata);
        !result)
        fail(fmt::format("its part {} is not well formed", name), "save it anew");
    return out;
}

// Names without the prefix of their space, which each writer chooses.
std::string_view local(const char* name) {
    const std::string_view s = name;
    const size_t colon = s.find(':');
    return colon == s.npos ? s : s.substr(colon + 1);
}
pugi::xml_node child(const pugi::xml_node& of, std::string_view name) {
    for (const pugi::xml_node& n : of)
        if (local(n.name()) == name) return n;
    return {};
}
const char* attribute(const pugi::xml_node& of, std::string_view name) {
    for (const pugi::xml_attribute& a : of.attributes())
        if (local(a.name()) == name) return a.value();
    return "";
}

// Text of all parts called `name` below a node, phonetic ones left out.
void collect(const pugi::xml_node& of, std::string_view name, std::string& out) {
    for (const pugi::xml_node& n : of) {
        if (local(n.name()) == "rPh") continue;
        if (local(n.name()) == name)
            out += n.text().get();
        else
            collect(n, name, out);
    }
}

// A number of the file, which always has a point, so that it reads in one way only: "1.234" would not.
std::string plain_number(const std::string& text) {
    double v = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (error != std::errc() || end != text.data() + text.size()) return text;
    std::string s = fmt::format("{:.15g}", v);
    const size_t point = s.find('.');
    if (point != s.npos && s.find('e') == s.npos && s.size() - point == 4) s += "0";
    return s;
}

void put(CellTable& out, long row, long column, std::string text) {
    if (row < 0 || column < 0 || text.empty()) return;
    if (row >= most_rows || column >= most_columns)
        fail(fmt::format("it has a cell in row {}, column {}", row + 1, column + 1),
             fmt::format("at most {} rows and {} columns are read; keep the table only", most_rows, most_columns));
    while (long(out.rows.size()) <= row) out.rows.push_back({int(out.rows.size()) + 1, {}, false});
    auto& cells = out.rows[size_t(row)].cells;
    if (long(cells.size()) <= column) cells.resize(size_t(column) + 1);
    for (char& c : text)
        if (c == '\n' || c == '\r') c = ' ';
    cells[size_t(column)] = trimmed(text);
}

// Office Open XML (ECMA-376, part 1, 18.3).
std::string first_sheet_of(const Package& p) {
    const auto book = parsed(p, "xl/workbook.xml");
    const pugi::xml_node sheet = child(child(book.document_element(), "sheets"), "sheet");
    const std::string id = attribute(sheet, "id");
    std::string relation;
    for (const pugi::xml_attribute& a : sheet.attributes())
        if (std::string_view(a.name()).find(':') != std::string_view::npos && local(a.name()) == "id")
            relation = a.value();
    const auto relations = parsed(p, "xl/_rels/workbook.xml.rels");
    for (const pugi::xml_node& r : relations.document_element())
        if (relation == attribute(r, "Id")) {
            std::string target = attribute(r, "Target");
            return target.rfind("/", 0) == 0 ? target.substr(1) : "xl/" + target;
        }
    fail("it has no sheet", "save it anew");
}

// "BC12" → column 54, row 11, from nought; −1 where it says none.
std::pair<long, long> place_of(const std::string& reference) {
    long column = 0, row = 0;
    size_t i = 0;
    for (; i < reference.size() && reference[i] >= 'A' && reference[i] <= 'Z' && i < 4; ++i)
        column = 26 * column + reference[i] - 'A' + 1;
    std::from_chars(reference.data() + i, reference.data() + reference.size(), row);
    return {column - 1, row - 1};
}

void read_xlsx(const Package& p, CellTable& out) {
    std::vector<std::string> shared;
    if (p.has("xl/sharedStrings.xml")) {
        const auto strings = parsed(p, "xl/sharedStrings.xml");
        for (const pugi::xml_node& si : strings.document_element()) {
            if (local(si.name()) != "si") continue;
            shared.emplace_back();
            collect(si, "t", shared.back());
        }
    }
    const auto sheet = parsed(p, first_sheet_of(p));
    long row = -1;
    for (const pugi::xml_node& r : child(sheet.document_element(), "sheetData")) {
        if (local(r.name()) != "row") continue;
        const long stated = std::atol(attribute(r, "r"));
        row = stated > 0 ? stated - 1 : row + 1;
        long column = -1;
        for (const pugi::xml_node& c : r) {
            if (local(c.name()) != "c") continue;
            const auto [at, at_row] = place_of(attribute(c, "r"));
            column = at >= 0 ? at : column + 1;
            const std::string type = attribute(c, "t"), value = child(c, "v").text().get();
            std::string text;
            if (type == "s") {
                const size_t k = size_t(std::atol(value.c_str()));
                if (value.empty() || k >= shared.size()) fail("a text of it is missing", "save it anew");
                text = shared[k];
            } else if (type == "inlineStr") {
                collect(child(c, "is"), "t", text);
            } else if (type == "str" || type == "e" || type == "d") {
                text = value;
            } else if (type == "b") {
                text = value == "1" ? "TRUE" : "FALSE";
            } else {
                text = plain_number(value);
            }
            // A formula that was never worked out has no value: what stands there is told, not taken for nothing.
            if (text.empty() && child(c, "f")) text = "=" + std::string(child(c, "f").text().get());
            put(out, row, column, std::move(text));
        }
    }
}

// OpenDocument 1.3, part 3, 9.1: rows may stand in groups and heads.
class OdsReader {
  public:
    explicit OdsReader(CellTable& out) : out_(out) {}
    void rows(const pugi::xml_node& of) {
        for (const pugi::xml_node& n : of) {
            const std::string_view name = local(n.name());
            if (name == "table-row")
                one(n);
            else if (name == "table-rows" || name == "table-header-rows" || name == "table-row-group")
                rows(n);
        }
    }

  private:
    static long repeated(const pugi::xml_node& n, std::string_view what) {
        return std::max(1L, std::atol(attribute(n, what)));
    }
    void one(const pugi::xml_node& r) {
        const long times = repeated(r, "number-rows-repeated");
        bool any = false;
        for (long k = 0; k < times && (k == 0 || any); ++k) {
            long column = 0;
            for (const pugi::xml_node& c : r) {
                const std::string_view name = local(c.name());
                if (name != "table-cell" && name != "covered-table-cell") continue;
                const long n = repeated(c, "number-columns-repeated");
                const std::string text = name == "table-cell" ? text_of(c) : "";
                for (long i = 0; i < n && !text.empty(); ++i) put(out_, row_ + k, column + i, text), any = true;
                column += n;
            }
        }
        row_ += times;
    }
    static std::string text_of(const pugi::xml_node& c) {
        const std::string type = attribute(c, "value-type");
        std::string shown;
        for (const pugi::xml_node& p : c)
            if (local(p.name()) == "p") {
                if (!shown.empty()) shown += ' ';
                deep(p, shown);
            }
        // An error of a formula is a nought with "#REF!" or "Err:502" shown.
        const bool is_error = shown.rfind("Err:", 0) == 0 || shown.rfind("#", 0) == 0;
        if ((type == "float" || type == "currency" || type == "percentage") && !is_error)
            return plain_number(attribute(c, "value"));
        return shown;
    }
    static void deep(const pugi::xml_node& of, std::string& out) {
        for (const pugi::xml_node& n : of)
            if (n.type() == pugi::node_pcdata || n.type() == pugi::node_cdata)
                out += n.value();
            else if (local(n.name()) == "s")
                out.append(size_t(std::clamp(std::atol(attribute(n, "c")), 1L, 100L)), ' ');
            else if (local(n.name()) != "annotation")
                deep(n, out);
    }
    CellTable& out_;
    long row_ = 0;
};

}  // namespace

bool is_sheet_file(const std::string& bytes) { return bytes.rfind("PK\x03\x04", 0) == 0; }

CellTable read_sheet(const std::string& bytes) {
    const Package p(bytes);
    CellTable out;
    out.is_sheet = true;
    if (p.has("xl/workbook.xml")) {
        read_xlsx(p, out);
    } else if (p.has("content.xml")) {
        const auto content = parsed(p, "content.xml");
        const pugi::xml_node table = child(child(child(content.document_element(), "body"), "spreadsheet"), "table");
        if (!table) fail("it has no sheet", "it may be a text document; save the table as a spreadsheet");
        OdsReader(out).rows(table);
    } else {
        fail("it is a packed file and no spreadsheet", "give an .xlsx, .ods or .csv file");
    }
    return out;
}

CellTable read_table_file(const std::string& bytes) {
    if (is_sheet_file(bytes)) return read_sheet(bytes);
    auto refuse = [](const char* what, const char* mend) {
        throw Trouble({what, "the table", mend, Severity::error, {}});
    };
    if (bytes.rfind("\xD0\xCF\x11\xE0", 0) == 0)
        refuse("it is a spreadsheet of the old binary kind (.xls) or has a password",
               "save it as .xlsx, .ods or .csv without one");
    if (bytes.rfind("%PDF", 0) == 0) refuse("it is a PDF file", "export the table as .xlsx, .ods or .csv");
    return read_cells(as_utf8(bytes));
}

}  // namespace mossbed
