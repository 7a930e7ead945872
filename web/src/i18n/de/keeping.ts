import type en from '../en/keeping'

const de: typeof en = {
  keeping: {
    kept: 'Jede Fassung bleibt',
    howLong: 'Wie lange jede Fassung bleibt',
    forEver: 'für immer',
    months: 'einen Monat | {n} Monate',
    afterwards: 'danach',
    then: { none: 'keine', daily: 'eine je Tag', weekly: 'eine je Woche', monthly: 'eine je Monat' },
    lastOnes: 'Wie viele der letzten in jedem Fall bleiben',
    last: 'die letzte in jedem Fall | die letzten {n} in jedem Fall',
    noLast: 'ohne Mindestzahl',
    alwaysWhole: 'Die geltende, und die mit Namen oder Notiz, bleiben immer.',
    always: 'die geltende, und die mit Namen oder Notiz, immer',
    all: 'jede Fassung, für immer',
    every: 'jede Fassung einen Monat | jede Fassung {n} Monate',
    here: 'Hier bleibt:',
    grace: 'Sie können einen Tag lang zurückgeholt werden. | Sie können {n} Tage lang zurückgeholt werden.',
    looking: 'Es wird nachgesehen, was dadurch ginge …',
    nothingGoes: 'Von dem, was da ist, ginge jetzt nichts.',
    goes: 'Jetzt gingen {versions} von {documents}, {size}.',
    documents: 'einem Dokument | {n} Dokumenten',
    andMore: 'Das sind die ersten zwanzigtausend Dokumente; es gibt mehr.',
    do: 'So aufbewahren',
    set: 'Fassungen bleiben nach der neuen Regel.',
    asBefore: 'Fassungen bleiben wie zuvor.',
    own: 'Eine Regel dieses Dossiers.',
    practices: 'Wie überall in der Kanzlei.',
    asPractice: 'Wie in der Kanzlei',
    nextGoes: 'Nach dieser Regel geht nichts vor dem {when}.',
    neverGoes: 'Nach dieser Regel geht nichts.',
    removable: 'Entferntes kann einen Tag lang zurückgeholt werden. | Entferntes kann {n} Tage lang zurückgeholt werden.',
  },
  eventShort: {
    dossier_keeping: '{actor} änderte, welche Fassungen bleiben',
    version_thinned: 'Fassungen gingen nach der Regel',
  },
  problem: {
    'keep-months': 'Fassungen bleiben 1 bis 600 Monate, oder für immer.',
    'keep-last': 'In jedem Fall bleiben höchstens die letzten 1.000 Fassungen.',
    'keep-then': 'Es bleibt eine je Tag, Woche oder Monat, oder keine.',
    'keep-missing': 'Die Kanzlei braucht eine Regel.',
    'sitting-range': 'Eine Sitzung endet nach einer Pause von 1 bis 1.440 Minuten.',
  },
}

export default de
