// Strains by compression index below the patches: not in proportion to stress, so that no flexibility has them. What
// each patch force adds to the stress in each sublayer is in proportion, and kept while there is room for it.
#pragma once
#include "core/ground/flexibility_row.h"
#include "core/ground/layered_ground.h"
#include "core/ground/patch_groups.h"

namespace mossbed {

// How settlements grow with each patch force beyond what the flexibility has, where patches far off count by groups.
struct IndexSlope {
    ShortRows rows;  // m/kN, shortened
    std::shared_ptr<const PatchGroups> groups;
    double own(int patch) const { return rows(patch, groups->own(patch)); }  // under its own force
    void add_product(const Eigen::Ref<const Eigen::VectorXd>& forces, Eigen::Ref<Eigen::VectorXd> settled) const {
        groups->add_product(rows, forces, settled);
    }
};

class IndexStrain {
  public:
    // `pressure`: as the flexibility was formed with; `most`: numbers kept, a gigabyte of them. On the same patches and
    // sublayers as `before`, which may be null, they are taken from it. Throws Stopped.
    IndexStrain(std::shared_ptr<const LayeredGround> ground, std::shared_ptr<const ContactPatches> patches,
                double pressure, const Progress& progress = {}, const IndexStrain* before = nullptr,
                double most = 256e6);

    // What was found in each sublayer (a row), a column a combination.
    struct Look {
        Eigen::MatrixXd added;   // kPa
        Eigen::MatrixXd beyond;  // by how much more it is compressed per kPa than in the flexibility, m
    };
    // Settlement of every patch under patch forces (a column each), with true strains in the sublayers by index in
    // place of the secants that a flexibility has there and `by_flexibility` is made with. With `look` that too; where
    // a column of `added` is given in `before` (null where not), its chords there: where rates at once lead to and fro
    // across the stress that a clay has borne before, chords come to rest between. Throws Stopped.
    Eigen::MatrixXd settlements(const Eigen::MatrixXd& by_flexibility, const Eigen::MatrixXd& forces,
                                const Progress& progress = {}, Look* look = nullptr,
                                const std::vector<const Eigen::VectorXd*>& before = {}) const;
    // One a column of Look::beyond. Throws Stopped.
    std::vector<IndexSlope> slopes(const Eigen::MatrixXd& beyond, const Progress& progress = {}) const;

  private:
    void add_rows(int patch, float* to) const;  // mean Δσz in each of its sublayers under unit forces, 1/m²
    void keep_stresses(double most, const Progress& progress);
    int sublayers(int patch) const { return start_[size_t(patch) + 1] - start_[size_t(patch)]; }
    std::shared_ptr<const LayeredGround> ground_;
    std::shared_ptr<const ContactPatches> patches_;
    RowMaker rows_;
    std::vector<Sublayer> layers_;  // those by index, patch by patch
    std::vector<IndexLaw> laws_;    // as the layers
    std::vector<int> start_;
    struct Stresses {
        RowMatrix all;                              // a row a sublayer; none where that would be too much
        std::vector<std::vector<float>> by_groups;  // per patch its sublayers' rows, shortened
    };
    std::shared_ptr<const Stresses> stress_;
    std::shared_ptr<const PatchGroups> groups_;
};

}  // namespace mossbed
