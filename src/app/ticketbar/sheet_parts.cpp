#include "app/ticketbar/sheet_parts.h"

#include "app/models/tray/out_tray.h"

#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"

#include <QHBoxLayout>
#include <QLabel>

namespace yelvin::sheets {

const Ticket& shown(const TicketModels& models) {
    for (const QString& id : models.for_documents)
        if (const DocumentPtr document = document_at(models.tray.tray(), id.toStdString()))
            return models.document_tickets.of(*document);
    return models.tickets.ticket();
}

QCheckBox* tick(PhraseSheet& sheet, const QString& text, const QString& name, bool on,
                const std::function<void(bool)>& apply) {
    auto* box = new QCheckBox(text);
    box->setObjectName(name);
    box->setChecked(on);
    QObject::connect(box, &QCheckBox::toggled, &sheet, apply);
    sheet.add_widget(box);
    return box;
}

void field(PhraseSheet& sheet, const QString& words, QWidget* edit) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(24, 0, 0, 0);
    auto* label = theme::label_for(edit, words, row);
    label->setMinimumWidth(64);
    line->addWidget(label);
    line->addWidget(edit, 1);
    sheet.add_widget(row);
}

}
