// Commands that write what other programs read.
#include "cli/commands.h"
#include "core/exchange/drawing_writer.h"
#include "core/exchange/tables_out.h"

namespace mossbed {
namespace {

struct ExportOptions {
    std::string model, dxf, columns, nodes;
};

int write_all(const ExportOptions& o) {
    const auto m = read(o.model);
    if (!m) return 2;
    try {
        if (!o.dxf.empty()) save_text(write_drawing(m->first), o.dxf);
        if (!o.columns.empty()) save_text(columns_csv(m->first), o.columns);
        if (!o.nodes.empty()) {
            const auto a = solve_or_tell(m->first, {});
            if (!a) return 2;
            save_text(nodes_csv(*a), o.nodes);
        }
    } catch (const Trouble& t) {
        tell(t.problem);
        return 2;
    }
    return 0;
}

}  // namespace

void add_export(CLI::App& app, int& code) {
    static ExportOptions o;
    auto* e = app.add_subcommand("export", "Write the plan, the columns or the nodes of MODEL for other programs.");
    e->add_option("MODEL", o.model, "a .mossbed file")->required();
    e->add_option("--dxf", o.dxf, "the plan as a drawing, in mm");
    e->add_option("--columns", o.columns, "columns and their loads, CSV");
    e->add_option("--nodes", o.nodes, "nodes of the mesh with settlements and pressures, CSV");
    e->callback([&code] {
        if (o.dxf.empty() && o.columns.empty() && o.nodes.empty())
            throw CLI::ValidationError("export", "say what to write: --dxf, --columns or --nodes");
        code = write_all(o);
    });
}

}  // namespace mossbed
