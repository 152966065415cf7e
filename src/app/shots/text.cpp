// Picture of the recognised text beside its page.
#include "app/shots/camera.h"
#include "app/shots/scenes.h"
#include "app/text/text_look.h"

#include <QDir>

namespace yelvin::shots {

// Takes the picture of a demo page with its page number left out and one number selected.
void take_text(Desk& desk, MainWindow& window, const QDir& out) {
    window.look_at(MainWindow::Look::Text);
    until([&] { return desk.words.shown() != nullptr; });
    const ShownTextPtr text = desk.words.shown();
    desk.texts.leave_out(desk.choice.current_id(), text->text.paragraphs.size() - 1, true);
    for (size_t i = 0; i < text->words.size(); ++i) {
        if (text->word(i).text != "014" || desk.words.word()) continue;
        desk.words.choose(i);
    }
    until([&] { return window.text_look().page().is_sharp(); });
    settle(desk);
    shoot(window, out.filePath("text.png"));
    desk.words.choose_none();
    desk.tray.undo();
}

}
