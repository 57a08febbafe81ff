// Links round columns: where their legs stand, whether they keep the code's rules, and which of them a perimeter's cone
// crosses.
#pragma once
#include <optional>

#include "core/judge/judge.h"
#include "core/judge/punched_places.h"

namespace mossbed {

struct LinksOfColumn {
    LinkLegs laid;                         // all of them, round the column
    std::vector<std::vector<Point>> legs;  // of each perimeter, where they are drawn
    std::vector<std::vector<Point>>
        along;  // places of each perimeter, close to each other: shares of it are told by them
};

// Of each column; none where it has no links, not wholly given ones, or cannot be judged. The first items are those of
// the columns, in their order. Legs stand evenly along what of their perimeter lies on the slab and not in the shade of
// openings.
std::vector<std::optional<LinksOfColumn>> lay_links(const PunchedSlab& slab, const std::vector<PunchedItem>& items);

// Those that perimeters round an area, swept to the rims at which they end, cross: of each perimeter of legs the share
// that lies outside it, as no engineer says where round the column the first leg stands.
LinkLegs legs_beyond(const LinksOfColumn& links, const Polygon& swept);

double strength_below(const Model& m, Point at);  // MPa, of the concrete of the slab or the patch there

LinkRules link_rules(const PunchedSlab& slab, const Column& column, const LinksOfColumn& links, Face bars,
                     Working* by = nullptr);

// The rules as a row of the Ledger; none where the column has no links.
std::optional<Row> judge_links(const PunchedSlab& slab, const Column& column,
                               const std::optional<LinksOfColumn>& links);

}  // namespace mossbed
