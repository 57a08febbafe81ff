// Strains by compression index below the patches: not in proportion to stress, so that no flexibility has them. What
// each patch force adds to the stress in each sublayer is in proportion, and kept while there is room for it.
#pragma once
#include <optional>

#include "core/ground/deep_stress.h"
#include "core/ground/flexibility_row.h"
#include "core/ground/layered_ground.h"
#include "core/ground/patch_groups.h"

namespace mossbed {

// How settlements grow with each patch force beyond what the flexibility has, where patches far off count by groups.
struct IndexSlope {
    ShortRows rows;  // m/kN, shortened
    std::shared_ptr<const PatchGroups> groups;
    double own(int patch) const { return rows(groups->row(patch), groups->own(patch)); }  // under its own force
    void add_product(const Eigen::Ref<const Eigen::VectorXd>& forces, Eigen::Ref<Eigen::VectorXd> settled) const {
        groups->add_product(rows, forces, settled);
    }
};

class IndexStrain {
  public:
    // `pressure`: as the flexibility was formed with; `most`: numbers kept, a gigabyte of them with those of the
    // flexibility, others are made anew each time. On the same patches and sublayers as `before`, which may be null,
    // they are taken from it. Deep below stresses are interpolated: see deep_stress.h. Throws Stopped.
    IndexStrain(std::shared_ptr<const LayeredGround> ground, std::shared_ptr<const ContactPatches> patches,
                double pressure, const Progress& progress = {}, const IndexStrain* before = nullptr,
                double most = 256e6);

    // Settlement of every patch under patch forces (a column each), with true strains in the sublayers by index in
    // place of the secants that a flexibility has there and `by_flexibility` is made with. In `beyond`, by how much
    // more each sublayer (a row) is compressed per kPa there than in the flexibility, m. Throws Stopped.
    Eigen::MatrixXd settlements(const Eigen::MatrixXd& by_flexibility, const Eigen::MatrixXd& forces,
                                const Progress& progress = {}, Eigen::MatrixXd* beyond = nullptr) const;
    // One a column of `beyond`, in the memory of those in `made` that nobody else holds any more; to `made` those are
    // added that were too few. Throws Stopped.
    using Slopes = std::vector<std::shared_ptr<IndexSlope>>;
    Slopes slopes(const Eigen::MatrixXd& beyond, Slopes& made, const Progress& progress = {}) const;

  private:
    // Mean Δσz in each of its sublayers that are not deep under unit forces, 1/m².
    void add_rows(int patch, float* to) const;
    void keep_stresses(double most, const Progress& progress);
    int sublayers(int patch) const { return start_[size_t(patch) + 1] - start_[size_t(patch)]; }
    int shallow(int patch) const { return first_[size_t(patch) + 1] - first_[size_t(patch)]; }  // those above the deep
    std::shared_ptr<const LayeredGround> ground_;
    std::shared_ptr<const ContactPatches> patches_;
    RowMaker rows_;
    std::vector<Sublayer> layers_;    // those by index, patch by patch
    std::vector<IndexLaw> laws_;      // as the layers
    std::vector<int> start_, first_;  // of a patch among all sublayers, and among the shallow ones
    struct Stresses {
        int kept = 0;                               // patches, the first ones, whose stresses there is room for
        RowMatrix all;                              // under those, a row a shallow sublayer
        std::optional<DeepStress> deep;             // in the others
        std::vector<std::vector<float>> by_groups;  // per patch its sublayers' rows, shortened
    };
    std::shared_ptr<const Stresses> stress_;
    std::shared_ptr<const PatchGroups> groups_;
};

}  // namespace mossbed
