#include "support/support.h"
#include "devices/simulated/originals.h"

#include <cairo-pdf.h>
#include <librsvg/rsvg.h>

#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cstdlib>
#include <fcntl.h>
#include <fstream>
#include <iterator>
#include <random>
#include <regex>

namespace fs = std::filesystem;

namespace yelvin::test {

TempFolder::TempFolder() {
    std::random_device random;
    path_ = fs::temp_directory_path() / ("yelvin-test-" + std::to_string(random()) + std::to_string(random()));
    fs::create_directories(path_);
}

TempFolder::~TempFolder() {
    std::error_code ignored;
    fs::permissions(path_, fs::perms::owner_all, ignored);
    fs::remove_all(path_, ignored);
}

std::vector<std::string> TempFolder::files() const {
    std::vector<std::string> names;
    for (const auto& entry : fs::directory_iterator(path_)) names.push_back(entry.path().filename().string());
    std::ranges::sort(names);
    return names;
}

std::string read_file(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

void write_file(const fs::path& file, const std::string& bytes) { std::ofstream(file, std::ios::binary) << bytes; }

Ran run(const std::vector<std::string>& words) {
    const TempFolder folder;
    const fs::path out = folder / "out", err = folder / "err";
    std::vector<char*> arguments;
    for (const std::string& word : words) arguments.push_back(const_cast<char*>(word.c_str()));
    arguments.push_back(nullptr);
    const pid_t child = fork();
    if (child == 0) {
        const auto to = [](const fs::path& file, int descriptor) {
            dup2(open(file.c_str(), O_CREAT | O_WRONLY, 0600), descriptor);
        };
        to(out, 1);
        to(err, 2);
        execvp(arguments[0], arguments.data());
        _exit(127);
    }
    int status = 0;
    waitpid(child, &status, 0);
    return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, read_file(out), read_file(err)};
}

fs::path original(const std::string& name) { return fs::path(YELVIN_ORIGINALS) / (name + ".svg"); }

Raster scan(const std::string& name, double angle_degrees, double dpi, Ink ink, RectMm area, const Sensor& sensor) {
    BenchSetup setup;
    setup.sensor = sensor;
    setup.glass = {{original(name), 105, 148.5, angle_degrees}};
    SimulatedScanner scanner(setup);
    RasterSink sink;
    const auto done = scanner.scan({Source::Glass, area, dpi, ink}, sink, {});
    if (!done || sink.pages.empty()) ADD_FAILURE() << "no scan of " << name << (done ? "" : done.error().sentence);
    return sink.pages.empty() ? Raster{} : sink.pages.front();
}

namespace {
std::string plain_text(std::string text) {
    for (const auto& [entity, character] :
         {std::pair{"&lt;", "<"}, {"&gt;", ">"}, {"&quot;", "\""}, {"&#39;", "'"}, {"&apos;", "'"}, {"&amp;", "&"}}) {
        for (size_t at = text.find(entity); at != std::string::npos; at = text.find(entity, at + 1))
            text.replace(at, std::string(entity).size(), character);
    }
    return text;
}
}

std::vector<PrintedWord> words_of_pdf(const fs::path& pdf) {
    const Ran ran = run({"pdftotext", "-bbox", pdf.string(), "-"});
    EXPECT_EQ(ran.status, 0) << ran.err;
    static const std::regex word(
        R"re(<word xMin="([0-9.-]+)" yMin="([0-9.-]+)" xMax="([0-9.-]+)" yMax="([0-9.-]+)">(.*?)</word>)re");
    std::vector<PrintedWord> words;
    for (std::sregex_iterator at(ran.out.begin(), ran.out.end(), word), end; at != end; ++at) {
        const auto mm = [&](size_t group) { return std::stod((*at)[group].str()) * mm_per_inch / points_per_inch; };
        words.push_back({plain_text((*at)[5].str()), {mm(1), mm(2), mm(3) - mm(1), mm(4) - mm(2)}});
    }
    return words;
}

std::string text_of_pdf(const fs::path& pdf) {
    const Ran ran = run({"pdftotext", pdf.string(), "-"});
    EXPECT_EQ(ran.status, 0) << ran.err;
    return ran.out;
}

std::vector<PrintedWord> words_of_original(const std::string& name) {
    const TempFolder folder;
    const fs::path pdf = folder / "truth.pdf";
    const auto drawing = PaperOriginal::load(original(name));
    if (!drawing) {
        ADD_FAILURE() << drawing.error().sentence;
        return {};
    }
    const SizeMm size = drawing->size();
    cairo_surface_t* surface = cairo_pdf_surface_create(pdf.c_str(), mm_to_pt(size.width), mm_to_pt(size.height));
    cairo_t* cairo = cairo_create(surface);
    cairo_scale(cairo, mm_to_pt(1), mm_to_pt(1));
    drawing->draw(cairo);
    cairo_destroy(cairo);
    cairo_surface_finish(surface);
    cairo_surface_destroy(surface);
    return words_of_pdf(pdf);
}

std::string pdf_with_text(const std::vector<std::string>& lines) {
    const TempFolder folder;
    const auto pdf = folder / "text.pdf";
    cairo_surface_t* surface = cairo_pdf_surface_create(pdf.c_str(), mm_to_pt(210), mm_to_pt(297));
    cairo_t* cairo = cairo_create(surface);
    cairo_select_font_face(cairo, "Liberation Serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, 12);
    double y = 80;
    for (const std::string& line : lines) {
        cairo_move_to(cairo, 70, y);
        cairo_show_text(cairo, line.c_str());
        y += 18;
    }
    cairo_destroy(cairo);
    cairo_surface_finish(surface);
    cairo_surface_destroy(surface);
    return read_file(pdf);
}

std::vector<std::pair<size_t, size_t>> common_in_order(const std::vector<PrintedWord>& a,
                                                       const std::vector<PrintedWord>& b) {
    std::vector<std::vector<int>> length(a.size() + 1, std::vector<int>(b.size() + 1));
    for (size_t i = a.size(); i-- > 0;) {
        for (size_t k = b.size(); k-- > 0;)
            length[i][k] =
                a[i].text == b[k].text ? length[i + 1][k + 1] + 1 : std::max(length[i + 1][k], length[i][k + 1]);
    }
    std::vector<std::pair<size_t, size_t>> pairs;
    for (size_t i = 0, k = 0; i < a.size() && k < b.size();) {
        if (a[i].text == b[k].text)
            pairs.emplace_back(i++, k++);
        else if (length[i + 1][k] >= length[i][k + 1])
            ++i;
        else
            ++k;
    }
    return pairs;
}

cv::Mat noisy(int width, int height, int type, unsigned seed) {
    cv::Mat out(height, width, type);
    cv::RNG random(seed);
    random.fill(out, cv::RNG::UNIFORM, 0, 256);
    return out;
}

}
