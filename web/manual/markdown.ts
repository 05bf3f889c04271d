/** The manual as Markdown, as it is in `docs/manual/`. */
import { type ManualPage, manual } from './manual.ts';

export const fileOf = (page: ManualPage): string => `${page.path}.md`;

/** A page as Markdown. */
export const textOf = (page: ManualPage): string =>
  `${[
    `# ${page.title}`,
    page.about,
    ...(page.picture ? [`![${page.title}](../screenshots/${page.picture})`] : []),
    '## What owners ask',
    ...page.questions.map(([question, answer]) => `**${question}** ${answer}`),
    ...(page.cautions.length > 0 ? ['## Mind', page.cautions.map((c) => `- ${c}`).join('\n')] : []),
  ].join('\n\n')}\n`;

export const contents = (): string =>
  `# Manual\n\nA page for each sheet, in the order of the work. In the app \`?\` shows the page of the sheet that is open.\n\n${manual
    .map((p) => `- [${p.title}](${fileOf(p)}): ${p.about}`)
    .join('\n')}\n`;
