/**
 * The keys of every query, in one place. A key that begins another one covers it: to invalidate
 * `keys.part.all` fetches everything of every part again.
 */
export const keys = {
  me: ['me'],
  setup: ['setup'],
  invitation: (token: string) => ['invited', token] as const,
  rules: ['rules'],
  helping: ['helping'],
  helped: ['helped'],
  instruments: ['instruments'],
  drills: ['drills'],
  cures: ['cures'],
  recipes: ['recipes'],
  sections: ['sections'],
  tagNames: ['tag-names'],
  tagged: (tag: string | null) => ['tags', tag] as const,

  pieces: ['pieces'],
  deletedPieces: ['pieces', 'deleted'],
  pieceContents: (pieceId: string) => ['hanging', pieceId] as const,
  pageSets: ['page-sets'],
  pageSet: (id: string) => ['page-set', id] as const,
  pages: ['page'],
  page: (id: string) => ['page', id] as const,
  importJob: (jobId: string | null) => ['import', jobId] as const,

  part: {
    all: ['part'],
    one: (id: string) => ['part', id] as const,
    chunks: (id: string, sectionId = '') => ['part', id, 'chunks', sectionId] as const,
    passage: (id: string, chunkId: string) => ['part', id, 'passage', chunkId] as const,
    engravings: (id: string) => ['part', id, 'engraving'] as const,
    engraving: (id: string, layout: string) => ['part', id, 'engraving', layout] as const,
    benches: (id: string) => ['part', id, 'bench'] as const,
    bench: (id: string, wish: unknown) => ['part', id, 'bench', wish] as const,
    ranking: (id: string, chunkId: string, player: string) => ['part', id, 'ranking', chunkId, player] as const,
    reference: (id: string, hasOthers: boolean) => ['part', id, 'reference', hasOthers] as const,
    survey: (id: string) => ['part', id, 'survey'] as const,
    similarity: (id: string) => ['part', id, 'kin'] as const,
    marks: (id: string) => ['part', id, 'marks'] as const,
    corners: (id: string, first: number, last: number) => ['part', id, 'corners', first, last] as const,
    tags: (id: string) => ['part', id, 'tags'] as const,
    chunkTags: (id: string, chunkId: string | undefined) => ['part', id, 'tags', chunkId] as const,
    lines: (id: string) => ['part', id, 'lines'] as const,
  },

  assignments: ['assignments'],
  olderAssignments: ['assignments', 'older'],
  assignmentPreview: (wish: unknown) => ['assignment preview', wish] as const,
  sheetJob: (jobId: string | null) => ['sheet job', jobId] as const,
  sheet: (code: string) => ['sheet', code] as const,

  plans: ['plans'],
  outlook: ['plans', 'outlook'],
  plan: { all: ['plan'], one: (planId: string | undefined) => ['plan', planId] as const },
  planPreview: {
    all: ['plan preview'],
    one: (wish: unknown, studentId: string | undefined) => ['plan preview', wish, studentId] as const,
  },

  desk: ['desk'],
  news: ['news'],
  wall: {
    all: ['wall'],
    opening: ['wall', 'opening'],
    section: (partId: string, sectionId: string, depth: number) => ['wall', partId, sectionId, depth] as const,
    firstRows: (partId: string, sectionId: string, depth: number, rows: number) =>
      ['wall', partId, sectionId, depth, rows] as const,
    student: (studentId: string) => ['wall', 'student', studentId] as const,
    piece: (pieceId: string) => ['wall', 'piece', pieceId] as const,
    slips: (partId: string, whose: unknown) => ['wall', 'trouble', partId, whose] as const,
    week: (wish: unknown) => ['wall', 'week', wish] as const,
  },
  evidence: { all: ['evidence'], cell: (cell: unknown) => ['evidence', cell] as const },
  diaryOf: (studentId: string) => ['diary', studentId] as const,

  hearing: {
    all: ['hearing'],
    chunk: (partId: string, sectionId: string, chunkId: string) => ['hearing', partId, sectionId, chunkId] as const,
    music: (partId: string, chunkId: string, goal: number | undefined) =>
      ['hearing', 'music', partId, chunkId, goal] as const,
  },
  faults: { all: ['faults'], ofPart: (partId: string) => ['faults', partId] as const },
  score: {
    all: ['score'],
    piece: (pieceId: string) => ['score', pieceId] as const,
    slips: (pieceId: string) => ['score', pieceId, 'slips'] as const,
  },
  rehearsals: ['rehearsals'],
  rehearsal: (rehearsalId: string) => ['rehearsals', rehearsalId] as const,
  rehearsalDraft: {
    all: ['rehearsal'],
    suggested: (pieceId: string) => ['rehearsal', 'suggested', pieceId] as const,
    preview: (wish: unknown) => ['rehearsal', 'preview', wish] as const,
  },

  takes: {
    all: ['takes'],
    rules: ['takes', 'rules'],
    mine: ['takes', 'mine'],
    onDevice: (name: string) => ['takes', 'here', name] as const,
    needs: (chunkId: string) => ['takes', 'ask', chunkId] as const,
    tasks: ['takes', 'tasks'],
  },

  today: ['today'],
  myPlan: ['my plan'],
  myDiary: ['my diary'],
  myMap: ['map'],
  myPart: (partId: string) => ['me', 'part', partId] as const,
  leading: ['leading'],
  sectionals: ['sectionals'],
  ways: (itemId: string) => ['ways', itemId] as const,
  stand: {
    all: ['stand'],
    item: (itemId: string) => ['stand', itemId] as const,
    inLayout: (itemId: string, layout: string) => ['stand', itemId, layout] as const,
  },
} as const
