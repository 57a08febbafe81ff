// The base cut into patches: what they keep of it, and the integrals over them.
#include "core/ground/contact_patches.h"

#include <gtest/gtest.h>

#include <numeric>

#include "core/ground/flexibility_row.h"
#include "core/ground/near_integrals.h"
#include "tests/core/helpers.h"

namespace mossbed {
namespace {

using testing::box;
using testing::column;
using testing::raft;

struct Base {
    Model model = [] {
        Model m = raft({{0, 0}, {14, 1}, {13, 11}, {1, 10}}, 0.7, 15000);
        m.slab.openings.push_back({"O", box(8, 6, 9.5, 7.5), {}});
        m.columns = {column("A", 4, 5), column("B", 10, 4)};
        return m;
    }();
    Mesh mesh = build_mesh(model);
    NodeShares shares = node_shares(mesh);
    // m: of a place from rims, and from their corners.
    double from_rims(Point p) const {
        double least = 1e300;
        for (const auto& rim : mesh.rims)
            for (size_t k = 0; k < rim.size(); ++k)
                least = std::min(least, distance_to_segment(p, mesh.nodes[size_t(rim[k])],
                                                            mesh.nodes[size_t(rim[(k + 1) % rim.size()])]));
        return least;
    }
    double from_corners(Point p) const {
        double least = 1e300;
        for (const Polygon& of : {std::get<Polygon>(model.slab.outline), Polygon(model.slab.openings[0].outline)})
            for (Point corner : of) least = std::min(least, distance(p, corner));
        return least;
    }
};

TEST(ContactPatches, WithoutReachOnlyThoseOnRimsAreSingle) {
    const Base b;
    const ContactPatches p = make_contact_patches(b.mesh, b.shares, {.reach = 0});
    double area = 0;
    for (double of : p.area) area += of;
    EXPECT_NEAR(area, std::accumulate(b.shares.area.begin(), b.shares.area.end(), 0.0), 1e-9 * area);
    for (const auto& rim : b.mesh.rims)
        for (int node : rim) EXPECT_EQ(p.nodes[size_t(p.of_node[size_t(node)])].size(), 1u);
    EXPECT_LT(p.count(), make_contact_patches(b.mesh, b.shares).count());
    std::atomic<bool> stop{true};
    EXPECT_THROW(make_contact_patches(b.mesh, b.shares, {}, {&stop, {}}), Stopped);
}

// Straight from the pieces: sides that two of them share run both ways and cancel.
TEST(ContactPatches, OutlinesAreTheRimsOfTheirPieces) {
    const Base b;
    for (int most : {6000, 60}) {
        const ContactPatches p = make_contact_patches(b.mesh, b.shares, {.most = most});
        for (size_t k = 0; k < p.pieces.size(); ++k) {
            std::vector<std::pair<Point, Point>> left;
            for (const auto& piece : p.pieces[k])
                for (size_t i = 0; i < 4; ++i) {
                    const std::pair side{piece[i], piece[(i + 1) % 4]}, back{side.second, side.first};
                    const auto same = std::find(left.begin(), left.end(), back);
                    if (same != left.end())
                        left.erase(same);
                    else
                        left.push_back(side);
                }
            double rim = 0;
            for (const auto& [from, to] : left) rim += cross(from - p.centre[k], to - p.centre[k]) / 2;
            EXPECT_NEAR(rim, p.polygon_area[k], 1e-9 * rim);
            // what is left of it without corners that are next to straight
            for (const auto& [from, to] : p.edges[k])
                for (Point corner : {from, to})
                    EXPECT_TRUE(
                        std::any_of(left.begin(), left.end(), [&](auto& side) { return side.first == corner; }));
            EXPECT_NEAR(p.outline_area[k], rim, 0.05 * rim);
            EXPECT_LE(p.edges[k].size(), left.size());
        }
    }
}

TEST(ContactPatches, AreSharedInsideGoInPairsAlongRimsAndAreSingleAtCorners) {
    const Base b;
    const ContactPatches p = make_contact_patches(b.mesh, b.shares),
                         each = make_contact_patches(b.mesh, b.shares, {.side = 0});
    EXPECT_EQ(each.count(), int(b.mesh.nodes.size()));
    EXPECT_LT(p.count(), 0.5 * each.count());
    int inside = 0, single = 0, along = 0, in_pairs = 0;
    for (size_t i = 0; i < b.mesh.nodes.size(); ++i) {
        const auto& nodes = p.nodes[size_t(p.of_node[i])];
        const Point at = b.mesh.nodes[i];
        for (auto [j, share] : nodes) EXPECT_LT(distance(at, b.mesh.nodes[size_t(j)]), 1.42);  // a cell across
        const double from_rims = b.from_rims(at), from_corners = b.from_corners(at);
        if (from_corners < 0.9 || from_rims < 1e-6) {
            EXPECT_EQ(nodes.size(), 1u) << i;
            ++single;
        } else if (from_rims < 0.9) {
            EXPECT_LE(nodes.size(), 3u) << i;  // the mesh is askew in places
            for (auto [j, share] : nodes) EXPECT_NEAR(b.from_rims(b.mesh.nodes[size_t(j)]), from_rims, 0.3) << i;
            ++along, in_pairs += nodes.size() > 1;
        } else if (from_rims > 1.1) {
            inside += nodes.size() > 2;
        }
    }
    EXPECT_GT(single, 20);
    EXPECT_GT(along, 120);
    EXPECT_GT(in_pairs, 0.7 * along);
    EXPECT_GT(inside, int(b.mesh.nodes.size()) / 4);
}

TEST(ContactPatches, AreSingleNearColumnsThatAreAskedFor) {
    const Base b;
    PatchSizes sizes;
    sizes.fine_at_column = {1, 0};
    const ContactPatches p = make_contact_patches(b.mesh, b.shares, sizes);
    const Point A = b.mesh.nodes[size_t(b.mesh.column_node[0])], B = b.mesh.nodes[size_t(b.mesh.column_node[1])];
    int at_A = 0, at_B = 0;
    for (size_t i = 0; i < b.mesh.nodes.size(); ++i) {
        const size_t nodes = p.nodes[size_t(p.of_node[i])].size();
        if (distance(b.mesh.nodes[i], A) < 0.95) {
            EXPECT_EQ(nodes, 1u) << i;
            ++at_A;
        }
        at_B += nodes == 1 && distance(b.mesh.nodes[i], B) < 0.95;
    }
    EXPECT_GE(at_A, 9);
    EXPECT_EQ(at_B, 0);
}

// Of a box, whose mesh is symmetric: rims of 12 and 8 m, an even and an odd number of pairs between the corners.
TEST(ContactPatches, AreAsSymmetricAlongRimsAsTheBase) {
    for (const Point size : {Point{12, 8}, Point{11.5, 7}, Point{11, 6.5}}) {
        const Model m = raft(box(0, 0, size.x, size.y), 0.7, 15000);
        const Mesh mesh = build_mesh(m, 0.5);
        const ContactPatches p = make_contact_patches(mesh, node_shares(mesh));
        auto node_at = [&](Point q) {
            for (size_t i = 0; i < mesh.nodes.size(); ++i)
                if (distance(mesh.nodes[i], q) < 1e-6) return int(i);
            return -1;
        };
        int pairs = 0;
        for (size_t i = 0; i < mesh.nodes.size(); ++i) {
            const Point at = mesh.nodes[i];
            if (std::min({at.x, at.y, size.x - at.x, size.y - at.y}) > 0.9) continue;
            auto mirrored = [&](int node) {
                return node_at({size.x - mesh.nodes[size_t(node)].x, mesh.nodes[size_t(node)].y});
            };
            std::vector<int> want, got;
            for (auto [node, share] : p.nodes[size_t(p.of_node[i])]) want.push_back(mirrored(node));
            ASSERT_GE(mirrored(int(i)), 0);
            for (auto [node, share] : p.nodes[size_t(p.of_node[size_t(mirrored(int(i)))])]) got.push_back(node);
            std::sort(want.begin(), want.end()), std::sort(got.begin(), got.end());
            EXPECT_EQ(got, want) << at.x << " " << at.y;
            pairs += want.size() == 2;
        }
        EXPECT_GE(pairs, 40);
    }
}

TEST(ContactPatches, GoInPairsRightRoundACircle) {
    Model m = raft({}, 0.7, 15000);
    m.slab.outline = Circle{{3, 2}, 5};
    const Mesh mesh = build_mesh(m, 0.5);
    const NodeShares shares = node_shares(mesh);
    const ContactPatches p = make_contact_patches(mesh, shares);
    int behind = 0, shared = 0;
    for (size_t i = 0; i < mesh.nodes.size(); ++i) {
        const double from_rim = 5 - distance(mesh.nodes[i], {3, 2});
        const size_t nodes = p.nodes[size_t(p.of_node[i])].size();
        if (from_rim < 0.05) EXPECT_EQ(nodes, 1u) << i;
        if (from_rim < 0.3 || from_rim > 0.9) continue;
        ++behind, shared += nodes > 1;
    }
    EXPECT_GT(behind, 40);
    EXPECT_GT(shared, behind / 2);
    EXPECT_NEAR(std::accumulate(p.area.begin(), p.area.end(), 0.0),
                std::accumulate(shares.area.begin(), shares.area.end(), 0.0), 1e-9);
}

// Across a strip as narrow as two cells pressure is known at each node, however near both rims are.
TEST(ContactPatches, OfANarrowStripLieAlongIt) {
    const Model m = raft(box(0, 0, 9, 1), 0.4, 15000);
    const Mesh mesh = build_mesh(m, 0.5);
    const ContactPatches p = make_contact_patches(mesh, node_shares(mesh));
    EXPECT_LT(p.count(), int(mesh.nodes.size()) - 4);
    for (const auto& nodes : p.nodes)
        for (auto [node, share] : nodes)
            EXPECT_NEAR(mesh.nodes[size_t(node)].y, mesh.nodes[size_t(nodes[0].first)].y, 0.2);
}

TEST(ContactPatches, KeepAreaFirstMomentAndWhatAnEvenPressureDoes) {
    const Base b;
    for (const PatchSizes& sizes : {PatchSizes{}, PatchSizes{.side = 0}, PatchSizes{.most = 90}}) {
        const ContactPatches p = make_contact_patches(b.mesh, b.shares, sizes);
        const ContactPatches each = make_contact_patches(b.mesh, b.shares, {.side = 0});
        EXPECT_LE(p.count(), sizes.most);
        double area = 0, outlines = 0;
        Point first, by_shares;
        Eigen::VectorXd even = Eigen::VectorXd::Zero(long(b.mesh.nodes.size())), even_each = even;
        for (int k = 0; k < p.count(); ++k) {
            const size_t K = size_t(k);
            area += p.area[K], outlines += p.outline_area[K];
            first = first + p.polygon_area[K] * p.centre[K];
            double share = 0;
            for (auto [node, w] : p.nodes[K]) share += w;
            EXPECT_NEAR(share, 1, 1e-12);
            for (auto [node, w] : p.spread_to[K]) even[node] += w * p.polygon_area[K];
            for (const auto& s : p.shares[K]) by_shares = by_shares + s.area * s.at;
        }
        for (int k = 0; k < each.count(); ++k)
            for (auto [node, w] : each.spread_to[size_t(k)]) even_each[node] += w * each.polygon_area[size_t(k)];
        const Polygon rim{{0, 0}, {14, 1}, {13, 11}, {1, 10}};
        const double whole = signed_area(rim) - 2.25;
        EXPECT_NEAR(area, whole, 1e-9);
        EXPECT_NEAR(outlines, whole, 0.004 * whole);  // corners that are next to straight are left out
        EXPECT_NEAR(first.x, signed_area(rim) * centroid(rim).x - 2.25 * 8.75, 1e-8);
        EXPECT_NEAR(first.y, signed_area(rim) * centroid(rim).y - 2.25 * 6.75, 1e-8);
        EXPECT_NEAR(distance(first, by_shares), 0, 1e-8);
        EXPECT_LT((even - even_each).cwiseAbs().maxCoeff(), 1e-12);
    }
}

TEST(ContactPatches, GiveNodesPressuresThatAddUpToTheirOwn) {
    const Base b;
    const ContactPatches p = make_contact_patches(b.mesh, b.shares);
    std::vector<double> plane, cliff;
    for (Point c : p.centre) plane.push_back(30 + 2 * c.x - 3 * c.y), cliff.push_back(c.x > 7 ? 170 : 0);
    const PatchPlanes planes(p, b.mesh);
    for (const auto& per_patch : {plane, cliff}) {
        const std::vector<double> nodes = planes.of_nodes(per_patch);
        for (int k = 0; k < p.count(); ++k) {
            double sum = 0;
            for (auto [node, w] : p.nodes[size_t(k)]) sum += w * nodes[size_t(node)];
            EXPECT_NEAR(sum, per_patch[size_t(k)], 1e-9);
        }
        // To the last bit: where patches lift the smallest pressure is nought.
        EXPECT_GE(*std::min_element(nodes.begin(), nodes.end()), *std::min_element(per_patch.begin(), per_patch.end()));
        EXPECT_LE(*std::max_element(nodes.begin(), nodes.end()), *std::max_element(per_patch.begin(), per_patch.end()));
    }
    // A plane comes out as it is, but for what the middles of nodes' shares together lie off the patch's own.
    const std::vector<double> nodes = planes.of_nodes(plane);
    for (int k = 0; k < p.count(); ++k) {
        Point off;
        for (auto [node, w] : p.nodes[size_t(k)])
            off = off + w * (b.mesh.nodes[size_t(node)] + p.node_offset[size_t(node)] - p.centre[size_t(k)]);
        EXPECT_LT(length(off), 0.02 * std::sqrt(p.area[size_t(k)]));
        for (auto [node, w] : p.nodes[size_t(k)]) {
            const Point at = b.mesh.nodes[size_t(node)] + p.node_offset[size_t(node)] - off;
            EXPECT_NEAR(nodes[size_t(node)], 30 + 2 * at.x - 3 * at.y, 1e-9);
        }
    }
}

TEST(NearIntegrals, AreThoseOfEachPointByItself) {
    const Polygon outline{{0, 0}, {1.1, 0.1}, {0.9, 0.8}, {0.1, 1}};
    std::vector<std::pair<Point, Point>> edges;
    for (size_t k = 0; k < 4; ++k) edges.push_back({outline[k], outline[(k + 1) % 4]});
    WeightedPoints points;
    for (Point q : {Point{0.3, 0.4}, Point{0, 0}, Point{0.55, 0.05}, Point{2.2, 0.2}, Point{-3, 1}, Point{1.1, 0.1},
                    Point{0.5, 0.5}})
        points.add(q, 0.1 + q.x * q.x);
    for (double z : {0.0, 1e-6, 0.05, 0.7, 12.0}) {
        double inverse = 0, cubed = 0;
        for (int i = 0; i < points.count(); ++i) {
            const LoadedArea one = loaded_area(outline, {points.x[size_t(i)], points.y[size_t(i)]}, z);
            inverse += points.weight[size_t(i)] * one.inverse, cubed += points.weight[size_t(i)] * one.cubed;
        }
        const LoadedArea all = seen_from(points, edges, z);
        EXPECT_NEAR(all.inverse, inverse, 1e-9 * inverse) << z;
        EXPECT_NEAR(all.cubed, cubed, 1e-9 * (1e-3 + cubed)) << z;
    }
}

// Patches of twenty nodes and more: means are taken over ninths of them, but under patches that are much smaller. Here
// over every piece of all nodes' shares, four by four points in each.
TEST(FlexibilityRows, OfManyNodesAPatchAreMeansOverThem) {
    Base b;
    b.mesh = build_mesh(b.model, 0.4), b.shares = node_shares(b.mesh);
    const ContactPatches p = make_contact_patches(b.mesh, b.shares, {.side = 2, .reach = 0.5});
    const RowMaker rows(p);
    const std::array<double, 4> at{0.069431844203, 0.330009478208, 0.669990521792, 0.930568155797},
        weight{0.173927422569, 0.326072577431, 0.326072577431, 0.173927422569};
    int large = 0, alike = 0, small = 0;
    double worst_own = 0, worst_beside = 0, worst = 0;
    for (int i = 0; i < p.count(); ++i) {
        if (p.nodes[size_t(i)].size() < 20) continue;
        ++large;
        WeightedPoints points;
        for (const auto& q : p.pieces[size_t(i)])
            for (size_t u = 0; u < 4; ++u)
                for (size_t v = 0; v < 4; ++v) {
                    const double s = at[u], t = at[v];
                    const Point du = (1 - t) * (q[1] - q[0]) + t * (q[2] - q[3]),
                                dv = (1 - s) * (q[3] - q[0]) + s * (q[2] - q[1]);
                    points.add((1 - s) * (1 - t) * q[0] + s * (1 - t) * q[1] + s * t * q[2] + (1 - s) * t * q[3],
                               weight[u] * weight[v] * cross(du, dv));
                }
        points.make_mean();
        for (double z : {0.0, 0.3, 1.0}) {
            std::vector<float> row(static_cast<size_t>(p.count()));
            rows.row(i, {{z}, {1}, {0.5}, {0}, {0}}, row.data(), nullptr);
            for (int j = 0; j < p.count(); ++j) {
                if (distance(p.centre[size_t(i)], p.centre[size_t(j)]) > 2.5) continue;
                const LoadedArea exact = seen_from(points, p.edges[size_t(j)], z);
                const double mean = (exact.inverse + 0.5 * exact.cubed) / p.outline_area[size_t(j)];
                const Point d = p.centre[size_t(i)] - p.centre[size_t(j)];
                const bool touches = dot(d, d) + z * z < touching_factor * p.size2[size_t(i)];
                double& most = i == j ? worst_own : touches ? worst_beside : worst;
                most = std::max(most, std::abs(row[size_t(j)] / mean - 1));
                (p.size2[size_t(j)] < 0.2 * p.size2[size_t(i)] ? small : alike) += touches;
            }
        }
    }
    EXPECT_GT(large, 10);
    EXPECT_GT(alike, 10 * large);
    EXPECT_GT(small, 10);
    EXPECT_LT(worst_own, 0.003);
    EXPECT_LT(worst_beside, 0.008);  // a small one at a corner
    EXPECT_LT(worst, 0.016);         // by quarters of both, which are of many shapes here
}

TEST(SamePatches, AreThoseOfOneShapeAtOnePlace) {
    auto with_column_at = [](double x) {
        Model m = raft(box(0, 0, 20, 12), 0.7, 15000);
        m.columns = {column("A", x, 5), column("B", 16, 4)};
        const Mesh mesh = build_mesh(m);
        return make_contact_patches(mesh, node_shares(mesh));
    };
    const ContactPatches before = with_column_at(4), now = with_column_at(4.3);
    const std::vector<int> same = same_patches(now, before);
    int found = 0;
    for (size_t i = 0; i < same.size(); ++i) {
        std::vector<int> alike;
        for (int k = 0; k < before.count(); ++k)
            if (now.pieces[i] == before.pieces[size_t(k)]) alike.push_back(k);
        ASSERT_LE(alike.size(), 1u);
        EXPECT_EQ(same[i], alike.empty() ? -1 : alike[0]) << i;
        found += !alike.empty();
    }
    EXPECT_GT(found, now.count() / 6);
    EXPECT_LT(found, now.count());

    ContactPatches bent = before;  // one patch of another shape about the same centre
    bent.edges[5][0].second.x += 1e-9;
    for (const auto& [others, fifth] : {std::pair{&before, 5}, {&bent, -1}})
        for (int i = 0; i < before.count(); ++i)
            EXPECT_EQ(same_patches(before, *others)[size_t(i)], i == 5 ? fifth : i);
}

TEST(FlexibilityRow, TakesWhatWasThereFromARowMadeBefore) {
    const Base b;
    const ContactPatches p = make_contact_patches(b.mesh, b.shares);
    const size_t n = size_t(p.count());
    const RowMaker rows(p);
    const RowTerms terms{{0, 1, 9}, {1, -0.4, -0.1}, {0.3, -0.2, -0.05}, {0.5, -0.2, -0.1}, {0.2, -0.1, -0.02}};
    std::vector<int> among(n);  // most were there, in two parts that changed places
    for (size_t j = 0; j < n; ++j) among[j] = j % 4 == 3 ? -1 : int((j + n - (n / 10 * 5 + 4)) % n);
    std::vector<float> was(n), was_again(n);
    for (size_t j = 0; j < n; ++j) was[j] = float(j), was_again[j] = -float(j);
    const RowMaker::Made made(rows, among);
    for (int i : {0, 17, p.count() / 2}) {
        std::vector<float> anew(n), anew_again(n), out(n), again(n);
        rows.row(i, terms, anew.data(), anew_again.data());
        rows.row(i, terms, out.data(), again.data(), made, was.data(), was_again.data());
        std::vector<float> alone(n);
        rows.row(i, terms, alone.data(), nullptr, made, was.data(), nullptr);
        int near = 0, far = 0;
        for (size_t j = 0; j < n; ++j) {
            const Point d = p.centre[j] - p.centre[size_t(i)];
            const bool takes = among[j] >= 0;
            EXPECT_EQ(out[j], takes ? was[size_t(among[j])] : anew[j]) << i << ", " << j;
            EXPECT_EQ(again[j], takes ? was_again[size_t(among[j])] : anew_again[j]) << i << ", " << j;
            EXPECT_EQ(alone[j], out[j]) << i << ", " << j;
            if (takes) continue;
            ++(dot(d, d) < near_factor * std::max(p.size2[j], p.size2[size_t(i)]) ? near : far);
        }
        EXPECT_GT(near, 1);
        EXPECT_GT(far, int(n) / 8);
    }
}

// Against sums over very many points: on a lattice the mean influence of a square on itself at the surface is
// ∫∫∫∫ 1/r = 2.97321 (per side³), and what the header promises for its neighbours.
TEST(FlexibilityRow, KeepsItsPromiseOnALattice) {
    const Model m = raft(box(0, 0, 12, 12), 0.7, 15000);
    const Mesh mesh = build_mesh(m, 1.0);
    const ContactPatches p = make_contact_patches(mesh, node_shares(mesh), {.side = 0});
    const RowMaker rows(p);
    int middle = 0;
    for (int i = 0; i < p.count(); ++i)
        if (distance(p.centre[size_t(i)], {6, 6}) < distance(p.centre[size_t(middle)], {6, 6})) middle = i;
    ASSERT_NEAR(p.area[size_t(middle)], 1, 1e-9);
    for (double z : {0.0, 0.4, 2.0}) {
        std::vector<float> row(size_t(p.count()), 0.0f);
        rows.row(middle, {{z}, {1}, {0}, {1}, {0}}, row.data(), nullptr);
        for (int j = 0; j < p.count(); ++j) {
            if (std::abs(p.area[size_t(j)] - 1) > 1e-9) continue;  // rims
            const Point d = p.centre[size_t(j)] - p.centre[size_t(middle)];
            double exact = 0;
            const int n = 24;
            for (int a = 0; a < n; ++a)
                for (int b = 0; b < n; ++b) {
                    const Point q{(a + 0.5) / n - 0.5, (b + 0.5) / n - 0.5};
                    exact += loaded_area(box(d.x - 0.5, d.y - 0.5, d.x + 0.5, d.y + 0.5), q, z).inverse / (n * n);
                }
            if (z == 0 && j == middle) exact = 2.97321;  // where two dozen points are too few
            const double r = length(d), promised = r < 0.1 ? 0.007 : r < 1.1 ? 0.005 : r < 1.5 ? 0.004 : 0.002;
            EXPECT_NEAR(row[size_t(j)] / exact, 1, promised) << z << " " << r;
        }
    }
}

}  // namespace
}  // namespace mossbed
