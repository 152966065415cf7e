// The window with a few tickets, each with its own folder, format and name.
#pragma once

#include "app/models/tray/document_tickets.h"
#include "app/window_fixture.h"

namespace yelvin::test {

class TicketsWindow : public Window {
  protected:
    void make_tickets() {
        make_ticket("Leases", "moss", Format::Pdf);
        make_ticket("Bills", "amber", Format::Jpeg);
        make_ticket("Notes", "brick", Format::Png);
    }
    void make_ticket(const std::string& name, const std::string& colour, Format format) {
        std::filesystem::create_directories(folder_of(name));
        choose([&](Ticket& t) {
            t.colour = colour;
            t.how.dpi = 75;
            t.read.languages.clear();
            t.from.paper = "A6";
            t.pages.turn_upright = false;
            t.make.format = format;
            t.save.folder = folder_of(name).string();
            t.save.name = {{NamePart::Kind::Words, name.substr(0, name.size() - 1)},
                           {NamePart::Kind::Words, " "},
                           {NamePart::Kind::Counter, "", 2}};
        });
        desk_->tickets.keep_as(QString::fromStdString(name));
        files_[name] = desk_->tickets.chosen_file();
    }
    std::filesystem::path folder_of(const std::string& ticket) const { return base_ / ticket; }
    void use(const std::string& ticket) { ASSERT_TRUE(desk_->tickets.choose(files_.at(ticket))); }
    // Scans a page with the ticket in the sentence.
    void scan() {
        lay("till-receipt", 0);
        const size_t before = desk_->tray.tray().page_count();
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == before + 1 && !desk_->run.passing(); }));
    }
    void scan_with(const std::string& ticket) {
        use(ticket);
        scan();
    }
    const Document& document(size_t index) const { return *desk_->tray.tray().documents.at(index); }
    QString id(size_t index) const { return QString::fromStdString(document(index).id); }
    const Ticket& ticket_of(size_t index) const { return desk_->document_tickets.of(document(index)); }
    std::string tickets() const {
        std::string out;
        for (const DocumentPtr& each : desk_->tray.tray().documents)
            out += desk_->document_tickets.of(*each).name + (desk_->document_tickets.has_own(*each) ? "* " : " ");
        return out;
    }
    std::string files_in(const std::string& ticket) const {
        std::vector<std::string> names;
        for (const auto& each : std::filesystem::directory_iterator(folder_of(ticket)))
            names.push_back(each.path().filename());
        std::ranges::sort(names);
        std::string out;
        for (const std::string& name : names) out += name + "|";
        return out;
    }
    void save_all() {
        desk_->saving.save_all();
        const auto is_saved = [](const DocumentPtr& each) { return !each->saved_as.empty(); };
        ASSERT_TRUE(wait([&] { return std::ranges::all_of(desk_->tray.tray().documents, is_saved) && at_rest(); }))
            << qPrintable(trouble_) << desk_->run.passing() << desk_->scanners.in_use() << desk_->saving.at_work()
            << desk_->looking.in_work() << desk_->reading.at_work() << desk_->reading.left() << document(0).saved_as;
    }
    static QWidget* popup(const char* name) {
        QWidget* there = QApplication::activePopupWidget();
        return there && there->objectName() == name ? there : nullptr;
    }
    static QWidget* sheet(const char* name) {
        EXPECT_TRUE(wait([&] { return popup(name) != nullptr; })) << name;
        QApplication::processEvents(); // the window that was active before is told so
        return popup(name);
    }
    static void press_row(QWidget* sheet, const QString& words) {
        ASSERT_TRUE(sheet);
        auto* row = row_of(sheet, words);
        ASSERT_TRUE(row) << qPrintable(words);
        row->setFocus();
        QTest::keyClick(row, Qt::Key_Return);
    }

    std::map<std::string, QString> files_;
};

}
