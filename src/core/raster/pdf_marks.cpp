#include "core/raster/pdf_marks.h"

#include <qpdf/QPDF.hh>

#include <algorithm>
#include <cmath>
#include <map>
#include <string>

namespace yelvin {

PdfMatrix operator*(const PdfMatrix& m, const PdfMatrix& n) {
    return {m.a * n.a + m.b * n.c, m.a * n.b + m.b * n.d,       m.c * n.a + m.d * n.c,
            m.c * n.b + m.d * n.d, m.e * n.a + m.f * n.c + n.e, m.e * n.b + m.f * n.d + n.f};
}

namespace {

cv::Rect2d around(const std::vector<cv::Point2d>& points) {
    cv::Point2d low = points.front(), high = points.front();
    for (const cv::Point2d& p : points) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }
    return {low, high};
}

// Whether a matrix keeps upright rectangles upright, to a thousandth of its own size.
bool is_upright(const PdfMatrix& m) {
    const double along = std::abs(m.a) + std::abs(m.d), across = std::abs(m.b) + std::abs(m.c);
    return std::min(along, across) <= 0.001 * std::max(along, across);
}

std::optional<PdfMatrix> matrix_in(QPDFObjectHandle array) {
    if (!array.isMatrix()) return std::nullopt;
    const auto m = array.getArrayAsMatrix();
    return PdfMatrix{m.a, m.b, m.c, m.d, m.e, m.f};
}

struct State {
    PdfMatrix matrix;
    cv::Rect2d clip;
    std::optional<std::array<double, 3>> fill = std::array<double, 3>{0, 0, 0};
    size_t fill_channels = 1; // of the colour space for fills: 1 grey, 3 RGB, 0 any other
    int text_mode = 0;
};

// Form XObjects may draw themselves and each other, many times each, so their depth and their total number are limited.
constexpr int deepest_form = 12, most_forms = 2000;
struct Effort {
    int depth = 0;
    int* forms_left = nullptr;
};

class Follower : public QPDFObjectHandle::ParserCallbacks {
  public:
    Follower(PdfMarks& marks, const cv::Rect2d& page, const State& state, const QPDFObjectHandle& resources,
             Effort effort)
        : marks_(marks), page_(page), now_(state), resources_(resources), effort_(effort) {}

    void handleObject(QPDFObjectHandle object) override {
        if (object.isInlineImage()) marks_.is_understood = false;
        if (!object.isOperator()) return operands_.push_back(object);
        const std::string name = object.getOperatorValue();
        const auto at = operators().find(name);
        if (at != operators().end()) (this->*at->second)();
        operands_.clear();
    }
    void handleEOF() override {}

  private:
    using Operator = void (Follower::*)();
    PdfMarks& marks_;
    cv::Rect2d page_;
    State now_;
    std::vector<State> kept_;
    QPDFObjectHandle resources_;
    Effort effort_;
    std::vector<QPDFObjectHandle> operands_;
    std::vector<cv::Point2d> path_; // in pt of the page
    bool path_is_rectangle_ = true, clips_ = false;

    double number(size_t i) {
        return i < operands_.size() && operands_[i].isNumber() ? operands_[i].getNumericValue() : 0;
    }
    QPDFObjectHandle resource(const char* kind) {
        if (operands_.empty() || !operands_.back().isName()) return QPDFObjectHandle::newNull();
        QPDFObjectHandle group = resources_.isDictionary() ? resources_.getKey(kind) : QPDFObjectHandle::newNull();
        return group.isDictionary() ? group.getKey(operands_.back().getName()) : QPDFObjectHandle::newNull();
    }

    void keep() { kept_.push_back(now_); }
    void bring_back() {
        if (kept_.empty()) return;
        now_ = kept_.back();
        kept_.pop_back();
    }
    void change_matrix() {
        now_.matrix = PdfMatrix{number(0), number(1), number(2), number(3), number(4), number(5)} * now_.matrix;
    }

    // ---- colours

    void fill_grey() { now_.fill = std::array<double, 3>{number(0), number(0), number(0)}; }
    void fill_rgb() { now_.fill = std::array<double, 3>{number(0), number(1), number(2)}; }
    // Only a colour of black alone is the same in every conversion.
    void fill_cmyk() {
        now_.fill.reset();
        const double grey = 1 - number(3);
        if (number(0) == 0 && number(1) == 0 && number(2) == 0) now_.fill = std::array<double, 3>{grey, grey, grey};
    }
    void fill_space() {
        now_.fill_channels = operands_.empty() ? 0 : channels_of(operands_.back());
        now_.fill = std::array<double, 3>{0, 0, 0};
        if (now_.fill_channels == 0) now_.fill.reset();
    }
    void fill_in_space() {
        if (now_.fill_channels == 1 && operands_.size() == 1) return fill_grey();
        if (now_.fill_channels == 3 && operands_.size() == 3) return fill_rgb();
        now_.fill.reset();
    }
    size_t channels_of(QPDFObjectHandle space) {
        if (space.isNameAndEquals("/DeviceGray")) return 1;
        if (space.isNameAndEquals("/DeviceRGB")) return 3;
        if (space.isName()) space = resource("/ColorSpace");
        if (!space.isArray() || space.getArrayNItems() < 2) return 0;
        QPDFObjectHandle family = space.getArrayItem(0), about = space.getArrayItem(1);
        if (family.isNameAndEquals("/CalGray")) return 1;
        if (family.isNameAndEquals("/CalRGB")) return 3;
        if (!family.isNameAndEquals("/ICCBased") || !about.isStream()) return 0;
        QPDFObjectHandle channels = about.getDict().getKey("/N");
        const long long count = channels.isInteger() ? channels.getIntValue() : 0;
        return count == 1 || count == 3 ? static_cast<size_t>(count) : 0;
    }

    // ---- paths

    void point() {
        for (size_t i = 0; i + 1 < operands_.size(); i += 2) path_.push_back(now_.matrix.at(number(i), number(i + 1)));
        path_is_rectangle_ = false;
    }
    void rectangle() {
        path_is_rectangle_ = path_.empty() && is_upright(now_.matrix);
        path_.push_back(now_.matrix.at(number(0), number(1)));
        path_.push_back(now_.matrix.at(number(0) + number(2), number(1)));
        path_.push_back(now_.matrix.at(number(0), number(1) + number(3)));
        path_.push_back(now_.matrix.at(number(0) + number(2), number(1) + number(3)));
    }
    void clip() { clips_ = true; }
    void end_path() {
        if (clips_ && !path_.empty()) {
            if (!path_is_rectangle_) marks_.is_understood = false;
            now_.clip &= around(path_);
        }
        path_.clear();
        path_is_rectangle_ = true;
        clips_ = false;
    }
    // White on the white page is invisible.
    void fill_path() {
        const bool is_white = now_.fill && *now_.fill == std::array<double, 3>{1, 1, 1};
        const bool shows = !path_.empty() && !(is_white && marks_.pictures.empty());
        if (shows && !(around(path_) & now_.clip & page_).empty()) ++marks_.paths;
        end_path();
    }
    void stroke_path() {
        if (!path_.empty()) ++marks_.paths;
        end_path();
    }
    void shade() { ++marks_.paths; }

    // ---- text

    void text_mode() { now_.text_mode = static_cast<int>(number(0)); }
    void show_text() {
        if (now_.text_mode == 3 || now_.text_mode == 7) return; // ISO 32000-1, 9.3.6: neither filled nor stroked
        for (QPDFObjectHandle& each : operands_) {
            if (each.isString()) marks_.letters += each.getStringValue().size();
            if (!each.isArray()) continue;
            for (int i = 0; i < each.getArrayNItems(); ++i)
                if (each.getArrayItem(i).isString()) marks_.letters += each.getArrayItem(i).getStringValue().size();
        }
    }

    // ---- what is named in the resources

    void graphics_state() {
        QPDFObjectHandle set = resource("/ExtGState");
        if (!set.isDictionary()) return;
        for (const char* alpha : {"/ca", "/CA"})
            if (set.getKey(alpha).isNumber() && set.getKey(alpha).getNumericValue() < 1) marks_.is_understood = false;
        QPDFObjectHandle mask = set.getKey("/SMask"), blend = set.getKey("/BM");
        if (mask.isDictionary()) marks_.is_understood = false;
        if (blend.isName() && blend.getName() != "/Normal" && blend.getName() != "/Compatible")
            marks_.is_understood = false;
    }

    void draw() {
        QPDFObjectHandle object = resource("/XObject");
        if (!object.isStream()) return;
        QPDFObjectHandle kind = object.getDict().getKey("/Subtype");
        if (object.getDict().hasKey("/OC")) marks_.is_understood = false;
        if (kind.isNameAndEquals("/Image")) picture(object);
        if (kind.isNameAndEquals("/Form")) form(object);
    }

    void picture(QPDFObjectHandle image) {
        const cv::Rect2d shown = unit_square_in(now_.matrix) & now_.clip & page_;
        if (shown.empty()) return;
        QPDFObjectHandle about = image.getDict(), stencil = about.getKey("/ImageMask");
        const bool lets_through = (stencil.isBool() && stencil.getBoolValue()) || !about.getKey("/Mask").isNull() ||
                                  !about.getKey("/SMask").isNull();
        constexpr double rim_pt = 0.5;
        const bool covers = shown.x <= page_.x + rim_pt && shown.y <= page_.y + rim_pt &&
                            shown.br().x >= page_.br().x - rim_pt && shown.br().y >= page_.br().y - rim_pt;
        if (covers && !lets_through && is_upright(now_.matrix)) {
            marks_.pictures.clear();
            marks_.letters = marks_.paths = 0;
        }
        marks_.pictures.push_back({image, now_.matrix, shown, now_.fill});
    }

    void form(QPDFObjectHandle stream) {
        if (effort_.depth >= deepest_form || --*effort_.forms_left < 0) {
            marks_.is_understood = false;
            return;
        }
        State within = now_;
        const auto own = matrix_in(stream.getDict().getKey("/Matrix"));
        if (own) within.matrix = *own * now_.matrix;
        QPDFObjectHandle box = stream.getDict().getKey("/BBox");
        if (box.isRectangle()) {
            const auto r = box.getArrayAsRectangle();
            const PdfMatrix& m = within.matrix;
            if (!is_upright(m)) marks_.is_understood = false;
            within.clip &= around({m.at(r.llx, r.lly), m.at(r.urx, r.lly), m.at(r.llx, r.ury), m.at(r.urx, r.ury)});
        }
        QPDFObjectHandle resources = stream.getDict().getKey("/Resources");
        Follower follower(marks_, page_, within, resources.isDictionary() ? resources : resources_,
                          {effort_.depth + 1, effort_.forms_left});
        stream.parseAsContents(&follower);
    }

    static const std::map<std::string, Operator>& operators() {
        using F = Follower;
        static const std::map<std::string, Operator> all{{"q", &F::keep},
                                                         {"Q", &F::bring_back},
                                                         {"cm", &F::change_matrix},
                                                         {"g", &F::fill_grey},
                                                         {"rg", &F::fill_rgb},
                                                         {"k", &F::fill_cmyk},
                                                         {"cs", &F::fill_space},
                                                         {"sc", &F::fill_in_space},
                                                         {"scn", &F::fill_in_space},
                                                         {"m", &F::point},
                                                         {"l", &F::point},
                                                         {"c", &F::point},
                                                         {"v", &F::point},
                                                         {"y", &F::point},
                                                         {"re", &F::rectangle},
                                                         {"W", &F::clip},
                                                         {"W*", &F::clip},
                                                         {"n", &F::end_path},
                                                         {"f", &F::fill_path},
                                                         {"F", &F::fill_path},
                                                         {"f*", &F::fill_path},
                                                         {"S", &F::stroke_path},
                                                         {"s", &F::stroke_path},
                                                         {"B", &F::stroke_path},
                                                         {"B*", &F::stroke_path},
                                                         {"b", &F::stroke_path},
                                                         {"b*", &F::stroke_path},
                                                         {"sh", &F::shade},
                                                         {"Tr", &F::text_mode},
                                                         {"Tj", &F::show_text},
                                                         {"TJ", &F::show_text},
                                                         {"'", &F::show_text},
                                                         {"\"", &F::show_text},
                                                         {"gs", &F::graphics_state},
                                                         {"Do", &F::draw}};
        return all;
    }
};

// Annotations such as comments, stamps and fields are visible; a link is not.
bool has_marks_beside(QPDFPageObjectHelper page) {
    return std::ranges::any_of(page.getAnnotations(), [](QPDFAnnotationObjectHelper& each) {
        return each.getSubtype() != "/Link" && each.getSubtype() != "/Popup";
    });
}

}

cv::Rect2d unit_square_in(const PdfMatrix& m) { return around({m.at(0, 0), m.at(1, 0), m.at(0, 1), m.at(1, 1)}); }

cv::Rect2d shown_box(QPDFPageObjectHelper page) {
    const auto as_rect = [](QPDFObjectHandle box) {
        const auto r = box.getArrayAsRectangle();
        return cv::Rect2d(cv::Point2d(r.llx, r.lly), cv::Point2d(r.urx, r.ury));
    };
    const cv::Rect2d sheet = as_rect(page.getMediaBox());
    QPDFObjectHandle crop = page.getCropBox();
    const cv::Rect2d cut = crop.isRectangle() ? as_rect(crop) & sheet : sheet;
    return cut.empty() ? sheet : cut;
}

PdfMarks marks_of(QPDFPageObjectHelper page) {
    PdfMarks marks;
    const cv::Rect2d box = shown_box(page);
    State state;
    state.clip = box;
    int forms_left = most_forms;
    Follower follower(marks, box, state, page.getAttribute("/Resources", false), {0, &forms_left});
    page.parseContents(&follower);
    // ISO 32000-1, table 30: user units of another size, which are not supported here.
    if (page.getObjectHandle().hasKey("/UserUnit")) marks.is_understood = false;
    QPDF* const owner = page.getObjectHandle().getOwningQPDF();
    if (owner && owner->getRoot().hasKey("/OCProperties")) marks.is_understood = false;
    if (has_marks_beside(page)) marks.is_understood = false;
    return marks;
}

}
