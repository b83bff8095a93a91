export { answerOf, patternsOf, type Pattern, type Trip } from './patterns';
export { diaryPage } from './page';
