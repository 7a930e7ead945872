import type en from '../en/uploads'

const de: typeof en = {
  tray: {
    movedOn: 'Es kommt aus Fassung {n}; inzwischen gilt Fassung {counts}. Beide bleiben.',
    merge: 'Zusammenführen',
    merged: 'Beides ist in Fassung {n} von {ref} zusammengeführt.',
    versionOf: 'Zur Fassung von {ref} machen',
    label: 'Ablage',
    running: '{n} Datei kommt herein, {p} % | {n} Dateien kommen herein, {p} %',
    idle: 'Nichts läuft',
    title: 'Kommt herein',
    fold: 'Einklappen',
    waiting: 'wartet',
    offline: 'Die Verbindung ist weg; es geht von selbst weiter.',
    cancel: 'Anhalten',
    clear: 'Leeren',
    retry: 'Noch einmal',
    done: {
      document: 'ist {ref}',
      version: 'ist Fassung {n} von {ref}',
      apart: 'ist {ref}, getrennt gehalten',
      unchanged: 'ist gleich der Fassung {n} von {ref}; nichts kam hinzu',
    },
    apart: 'Getrennt halten',
    stopAll: 'Alle anhalten',
    stoppedN: '{n} angehalten',
    refusedN: '{n} abgelehnt',
    summary: '{n} von {all} sind da',
    stopped: 'angehalten',
  },
  problem: {
    'practice-full': 'Dafür hat die Kanzlei keinen Speicher mehr. Es wurde nichts geändert; bitten Sie die Verwaltung um mehr.',
    'dossier-full': 'Dieses Dossier darf nicht mehr Speicher belegen. Es wurde nichts geändert; bitten Sie die Verwaltung um mehr.',
    'person-full': 'Sie haben den Speicher belegt, den jede Person hat. Es wurde nichts geändert; bitten Sie die Verwaltung um mehr.',
    'name-is-folder': 'Hier gibt es einen Ordner dieses Namens.',
    'name-is-document': 'Wo der Pfad einen Ordner braucht, steht ein Dokument.',
    'too-large': 'Die Datei ist größer, als Dokumente hier sein dürfen.',
    'hash-differs': 'Angekommen ist etwas anderes als geschickt. Schicken Sie es noch einmal.',
    'hash-form': 'Die Prüfsumme hat die falsche Form.',
    incomplete: 'Sie ist nicht vollständig angekommen.',
  },
}

export default de
