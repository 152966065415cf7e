#include "support/papers.h"

#include "devices/simulated/simulated_scanner.h"
#include "support/paper_tongues.h"
#include "support/papers_drawing.h"
#include "support/papers_layouts.h"
#include "support/support.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <optional>
#include <random>
#include <sstream>

namespace yelvin::test {

namespace {

using std::chrono::year_month_day;

class Writer {
  public:
    Writer(size_t index, size_t language, size_t layout, std::optional<size_t> sender)
        : tongue_(paper_tongues().at(language)), layout_(layouts.at(layout)),
          random_(static_cast<unsigned>(index * 77 + 5)),
          drawing_(std::array{"Liberation Sans", "Liberation Serif", "DejaVu Sans"}.at(index % 3), tongue_.language) {
        truth_.language = tongue_.language;
        truth_.layout = layout;
        truth_.kind = kind_names.at(static_cast<size_t>(layout_.type));
        name_ = tongue_.senders.at(sender.value_or(any(12)));
        town_ = tongue_.towns.at(any(tongue_.towns.size()));
        person_ = tongue_.people.at(any(tongue_.people.size()));
        web_ = "www." + web_name(name_) + ".example";
        letterhead_.seed(static_cast<unsigned>(std::hash<std::string>()(name_))); // the same on all its papers
        const auto year = static_cast<int>(2024 + any(3));
        date_ = year_month_day{std::chrono::year(year),
                               std::chrono::month(static_cast<unsigned>(1 + any(year == 2026 ? 10 : 12))),
                               std::chrono::day(static_cast<unsigned>(1 + any(28)))};
        number_ = a_number();
        american_ = layout_.digits == Digits::American && language == 0;
    }

    DrawnPaper paper() {
        truth_.date =
            fmt::format("{:04}-{:02}-{:02}", int(date_.year()), unsigned(date_.month()), unsigned(date_.day()));
        truth_.sender = layout_.head == Head::Person ? person_ : name_;
        if (layout_.ref != Ref::None) truth_.number = number_;
        head();
        if (layout_.type != PaperType::Receipt && layout_.type != PaperType::Minutes) addressee();
        marks();
        body();
        foot();
        return {truth_, drawing_.whole(), drawing_.printed()};
    }

  private:
    const PaperTongue& tongue_;
    Layout layout_;
    std::mt19937 random_, letterhead_;
    Drawing drawing_;
    PaperTruth truth_;
    std::string name_, town_, person_, web_, number_;
    year_month_day date_{};
    bool american_ = false;
    double y_ = 104;

    size_t any(size_t below) { return random_() % below; }
    const TypeWords& type() const { return tongue_.types.at(static_cast<size_t>(layout_.type)); }

    std::string a_number() {
        const auto digits = [this](size_t n) {
            std::string out;
            for (size_t i = 0; i < n; ++i) out += static_cast<char>('1' + any(9));
            return out;
        };
        switch (any(6)) {
        case 0:
            return digits(5);
        case 1:
            return "2026-" + digits(4);
        case 2:
            return "RE-" + digits(4) + "-" + digits(2);
        case 3:
            return digits(2) + "/" + digits(4);
        case 4:
            return "0" + digits(3) + " " + digits(3) + " " + digits(3); // as telephone numbers are written
        default:
            return "K" + digits(6);
        }
    }

    char mark() const { return tongue_.language == "deu" ? '.' : tongue_.language == "nld" ? '-' : '/'; }

    std::string written(year_month_day date, Digits how) const {
        const int year = int(date.year());
        const unsigned month = unsigned(date.month()), day = unsigned(date.day());
        const std::string& name = tongue_.months.at(month - 1);
        if (how == Digits::American && !american_) how = Digits::Day;
        switch (how) {
        case Digits::Iso:
            return fmt::format("{:04}-{:02}-{:02}", year, month, day);
        case Digits::American:
            return fmt::format("{:02}/{:02}/{:04}", month, day, year);
        case Digits::Day:
            return fmt::format("{1:02}{0}{2:02}{0}{3:04}", mark(), day, month, year);
        case Digits::Short:
            return tongue_.language == "deu" ? fmt::format("{}.{}.{:02}", day, month, year % 100)
                                             : fmt::format("{:02}/{:02}/{:02}", day, month, year % 100);
        case Digits::Words:
            break;
        }
        if (tongue_.language == "eng" && day % 3 == 0) return fmt::format("{} {}, {}", name, day, year);
        if (tongue_.language == "deu") return fmt::format("{}. {} {}", day, name, year);
        if (tongue_.language == "fra" && day == 1) return fmt::format("1er {} {}", name, year);
        return fmt::format("{} {} {}", day, name, year);
    }
    std::string the_date() const { return written(date_, layout_.digits); }
    year_month_day later(int days) const {
        return std::chrono::floor<std::chrono::days>(std::chrono::sys_days(date_) + std::chrono::days(days));
    }

    std::string money(double amount) const {
        const std::string plain = fmt::format("{:.2f}", amount);
        if (american_) return "$" + plain;
        if (tongue_.language == "eng") return "£" + plain;
        std::string comma = plain;
        std::ranges::replace(comma, '.', ',');
        return tongue_.language == "nld" ? "€ " + comma : comma + " €";
    }

    void logo(double x, double y) {
        drawing_.shape(fmt::format("<path d=\"M{} {} q8 -14 16 0 q8 14 16 0 l0 6 q-8 12 -16 0 q-8 -12 -16 0 z\" "
                                   "fill=\"#2f6f8f\"/>",
                                   x, y));
    }
    size_t of_head(size_t below) { return letterhead_() % below; }
    std::string street_line() { return fmt::format("{} {}", tongue_.streets.at(of_head(4)), 1 + of_head(80)); }
    std::string place_line() {
        const size_t code = 10000 + of_head(80000);
        if (tongue_.language == "eng") return fmt::format("{} OS{} {}TB", town_, 1 + of_head(9), 1 + of_head(9));
        if (tongue_.language == "nld") return fmt::format("{} AB {}", code / 10, town_);
        return fmt::format("{} {}", code, town_);
    }
    std::string phone_line() {
        return fmt::format("{} 0{} {} {}", tongue_.phone, 100 + of_head(800), 100 + of_head(800), 10 + of_head(80));
    }

    void head() {
        switch (layout_.head) {
        case Head::Big:
            drawing_.text(22, 26, 20, name_, "b");
            drawing_.text(22, 33, 8.5, street_line() + ", " + place_line());
            drawing_.text(22, 37.5, 8.5, phone_line() + "   " + web_);
            break;
        case Head::Caps:
            drawing_.text(105, 24, 18, upper(name_), "bc");
            drawing_.text(105, 31, 9, street_line() + ", " + place_line(), "c");
            break;
        case Head::Right:
            drawing_.text(188, 22, 12, name_, "br");
            drawing_.text(188, 27, 9, street_line(), "r");
            drawing_.text(188, 31.5, 9, place_line(), "r");
            drawing_.text(188, 36, 9, phone_line(), "r");
            drawing_.text(188, 40.5, 9, "post@" + web_.substr(4), "r");
            break;
        case Head::WebOnly:
            logo(22, 24);
            drawing_.text(188, 26, 10, web_, "r");
            drawing_.text(188, 31, 9, phone_line(), "r");
            break;
        case Head::Foot:
            logo(150, 24);
            break;
        case Head::ReturnLine:
            logo(150, 24);
            drawing_.text(22, 46, 7.5, name_ + " · " + street_line() + " · " + place_line());
            break;
        case Head::Person:
            drawing_.text(188, 22, 10.5, person_, "r");
            drawing_.text(188, 27, 10.5, street_line(), "r");
            drawing_.text(188, 32, 10.5, place_line(), "r");
            break;
        case Head::Tagline:
            drawing_.text(22, 26, 22, name_, "b");
            drawing_.text(22, 33, 10, tongue_.item + " · " + tongue_.quantity + " · " + town_);
            break;
        case Head::Band:
            drawing_.shape("<rect x=\"0\" y=\"10\" width=\"210\" height=\"22\" fill=\"#26506b\"/>");
            drawing_.text(22, 24, 20, name_, "bw");
            break;
        }
    }

    void addressee() {
        double y = 53;
        if (any(3) == 0 && layout_.head != Head::ReturnLine) drawing_.text(22, y - 5, 9, tongue_.to + ":");
        for (const char* line :
             {"Wendle Navigation Trust", "Ms Ines Alder", "Wharf House, Lower Basin", "WN4 2TB Wendleford"}) {
            drawing_.text(22, y, 10.5, line);
            y += 5;
        }
    }

    // The date, the number and the lines beside them.
    void marks() {
        std::vector<std::pair<std::string, std::string>> info;
        const bool columns = layout_.when == When::Columns;
        if (layout_.ref == Ref::Info) info.emplace_back(type().number, number_);
        if (layout_.when == When::Info) info.emplace_back(type().date == "held on" ? "Date" : type().date, the_date());
        if (layout_.crowded && !columns && layout_.type != PaperType::Letter && layout_.type != PaperType::Minutes)
            info.emplace_back(tongue_.customer, fmt::format("{}", 1000 + any(9000)));
        if (layout_.crowded && layout_.type == PaperType::Form)
            info.emplace_back(
                tongue_.birthday,
                written({std::chrono::year(1971), std::chrono::month(5), std::chrono::day(17)}, layout_.digits));
        if (layout_.crowded && layout_.head == Head::ReturnLine)
            info.emplace_back(tongue_.your_letter, written(later(-9), layout_.digits));
        std::ranges::shuffle(info, random_);
        double y = 53;
        for (const auto& [label, value] : info) {
            drawing_.text(118, y, 9.5, label + (any(2) ? ":" : ""));
            drawing_.text(188, y, 9.5, value, "r");
            y += 5;
        }
        if (layout_.when == When::Place)
            drawing_.text(188, 88, 10.5,
                          fmt::format("{}, {}{}", town_,
                                      tongue_.language == "fra"   ? "le "
                                      : tongue_.language == "deu" ? "den "
                                                                  : "",
                                      the_date()),
                          "r");
        if (layout_.when == When::Corner) drawing_.text(188, 88, 10.5, the_date(), "r");
        if (layout_.when == When::Weekday) {
            const size_t day = std::chrono::weekday(std::chrono::sys_days(date_)).c_encoding();
            drawing_.text(
                188, 88, 10.5,
                fmt::format("{}{} {}", tongue_.weekdays.at(day), tongue_.language == "fra" ? "" : ",", the_date()),
                "r");
        }
        if (columns) header_row();
    }

    void header_row() {
        const double at[] = {22, 80, 138};
        drawing_.shape("<rect x=\"20\" y=\"80\" width=\"170\" height=\"6.5\" fill=\"#e4e6e8\"/>");
        const std::pair<std::string, std::string> cells[] = {{tongue_.customer, fmt::format("{}", 1000 + any(9000))},
                                                             {type().number, number_},
                                                             {type().date, the_date()}};
        for (size_t i = 0; i < 3; ++i) {
            drawing_.text(at[i], 84.5, 9, cells[i].first);
            drawing_.text(at[i], 91, 9.5, cells[i].second);
        }
    }

    void line(const std::string& words, double pt = 10.5, const char* how = "") {
        drawing_.text(22, y_, pt, words, how);
        y_ += pt * 0.52;
    }
    void sentences(size_t count) {
        const size_t from = any(6);
        for (size_t i = 0; i < count; ++i) line(tongue_.sentences.at((from + i) % 6));
        y_ += 4;
    }

    void title() {
        if (layout_.type == PaperType::Letter) {
            line((any(2) ? tongue_.subject + " " : "") + tongue_.subjects.at(any(4)), 11, "b");
        } else {
            line(layout_.ref == Ref::Title ? type().title + " " + number_ : type().title, 16, "b");
        }
        y_ += 3;
        if (layout_.ref == Ref::Line) {
            line(type().number + ": " + number_);
            y_ += 2;
        }
    }

    void body() {
        title();
        switch (layout_.type) {
        case PaperType::Lease:
        case PaperType::Minutes:
            if (layout_.when == When::Sentence) line(fmt::format("{} {}", type().date, the_date()));
            if (layout_.crowded)
                line(fmt::format("{} {}",
                                 layout_.type == PaperType::Lease ? tongue_.begins : tongue_.next_meeting + ":",
                                 written(later(23), Digits::Words)));
            y_ += 4;
            sentences(4);
            sentences(3);
            break;
        case PaperType::Letter:
            line(tongue_.salutation);
            y_ += 3;
            if (layout_.crowded) line(fmt::format("{} {}.", tongue_.your_letter, written(later(-11), Digits::Words)));
            sentences(3);
            sentences(2);
            line(tongue_.closing);
            y_ += 10;
            line(person_);
            break;
        case PaperType::Form:
            for (size_t i = 0; i < 4; ++i) {
                drawing_.shape(fmt::format("<rect x=\"22\" y=\"{}\" width=\"160\" height=\"9\" fill=\"none\" "
                                           "stroke=\"#555\" stroke-width=\"0.3\"/>",
                                           y_ - 4));
                drawing_.text(24, y_, 8, tongue_.streets.at(i));
                y_ += 14;
            }
            sentences(2);
            break;
        default:
            table();
        }
        if (layout_.when == When::Signed) line(fmt::format("{} {}, {}", tongue_.signed_at, town_, the_date()));
    }

    void table() {
        sentences(1 + any(2));
        drawing_.text(22, y_, 9.5, tongue_.item, "b");
        drawing_.text(130, y_, 9.5, tongue_.quantity, "br");
        drawing_.text(188, y_, 9.5, tongue_.amount, "br");
        double net = 0;
        for (size_t i = 0, rows = 2 + any(4); i < rows; ++i) {
            y_ += 6;
            const double amount = 10 + static_cast<double>(any(40000)) / 100;
            net += amount;
            drawing_.text(22, y_, 9.5, tongue_.subjects.at((i + any(2)) % 4));
            drawing_.text(130, y_, 9.5, fmt::format("{}", 1 + any(20)), "r");
            drawing_.text(188, y_, 9.5, money(amount), "r");
        }
        y_ += 9;
        if (layout_.type == PaperType::Delivery) return;
        const double tax = std::round(net * (tongue_.language == "deu"   ? 19
                                             : tongue_.language == "nld" ? 21
                                                                         : 20)) /
                           100;
        const std::pair<std::string, double> sums[] = {
            {tongue_.net, net}, {tongue_.tax, tax}, {tongue_.total, net + tax}};
        for (const auto& [label, amount] : sums) {
            drawing_.text(110, y_, 9.5, label, label == tongue_.total ? "b" : "");
            drawing_.text(188, y_, 9.5, money(amount), label == tongue_.total ? "br" : "r");
            y_ += 6;
        }
        truth_.total = fmt::format("{:.2f}", net + tax);
        y_ += 5;
        if (!layout_.crowded) return;
        const bool offer = layout_.type == PaperType::Quotation;
        line(fmt::format("{}: {}", offer ? tongue_.valid : tongue_.due,
                         written(later(14 + static_cast<int>(any(20))), layout_.digits)));
        if (layout_.type == PaperType::Invoice)
            line(fmt::format("{}: {}", tongue_.delivered, written(later(-6), layout_.digits)));
    }

    void foot() {
        if (layout_.head == Head::Person) return;
        const std::string bank =
            tongue_.language == "fra" ? "IBAN FR76 3000 6000 0112 3456 7890 189" : "IBAN DE89 3704 0044 0532 0130 00";
        if (layout_.head == Head::Foot || layout_.head == Head::ReturnLine) {
            drawing_.text(105, 276, 8, name_ + " · " + street_line() + " · " + place_line(), "c");
            drawing_.text(105, 280, 8, phone_line() + " · " + web_, "c");
            drawing_.text(105, 284, 8, bank, "c");
        } else if (layout_.crowded)
            drawing_.text(22, 282, 8, bank + "   " + phone_line());
    }
};

}

DrawnPaper drawn_paper(size_t index) {
    const size_t language = index % 4;
    return Writer(index, language, (index / 4 + 8 * language) % paper_layouts, std::nullopt).paper();
}
DrawnPaper drawn_paper(size_t index, size_t language, size_t layout, size_t sender) {
    return Writer(index, language, layout, sender).paper();
}

Raster scanned(const DrawnPaper& paper, double dpi, double angle_degrees) {
    const TempFolder folder;
    write_file(folder / "paper.svg", paper.svg);
    BenchSetup setup;
    setup.glass = {{folder / "paper.svg", 105, 148.5, angle_degrees}};
    SimulatedScanner scanner(setup);
    RasterSink sink;
    const auto done = scanner.scan({Source::Glass, a4_area, dpi, Ink::Grey}, sink, {});
    if (!done || sink.pages.empty()) ADD_FAILURE() << "no scan" << (done ? "" : done.error().sentence);
    return sink.pages.empty() ? Raster{} : sink.pages.front();
}

}
