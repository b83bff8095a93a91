import { View } from 'react-native';
import { Button, RowButton, Words } from '@/components';
import { useTheme } from '@/theme';
import { shiftOf, type Question } from '@core/asking';
import type { Installation } from '@core/installation';
import type { Asked } from '@core/job';
import { answerWords, questionWords, shiftText, whichText } from '@core/wording';

/** One question, its answers as rows for the thumb, and a way past it. */
export function QuestionCard({ map, question, chosen, onAnswer }: { map: Installation; question: Question; chosen: string | null; onAnswer: (answer: string | null) => void }) {
  const { colour } = useTheme();
  const words = questionWords[question.id];
  if (!words) return null;
  return (
    <View testID="question" style={{ borderWidth: 1.5, borderColor: colour.edge, borderRadius: 14, padding: 14, gap: 8, backgroundColor: colour.sheet }}>
      <Words at="lead" bold role="heading">{words.ask}</Words>
      {question.answers.map((a) => <Button key={a.id} label={answerWords(map, question.id, a.id)} kind={chosen === a.id ? 'chosen' : 'plain'} onPress={() => onAnswer(a.id)} testID={`answer-${question.id}-${a.id}`} />)}
      <Button label="Don’t know" kind="quiet" onPress={() => onAnswer(null)} testID={`answer-${question.id}-unknown`} />
    </View>
  );
}

/** An answer that was given and what it changed, or that nobody knows; a tap opens it again. */
export function AnsweredRow({ map, asked, question, onOpen }: { map: Installation | null; asked: Asked; question: Question; onOpen: () => void }) {
  const words = questionWords[question.id];
  const answer = asked.answers[question.id];
  if (!words) return null;
  const { [question.id]: _, ...others } = asked.answers;
  const told = answer === undefined ? 'Not known' : map ? answerWords(map, question.id, answer) : answer;
  const because = !map || answer === undefined ? '' : whichText(map, question.id, answer) ?? shiftText(shiftOf(map, { ...asked, answers: others }, asked), words.because[answer] ?? '');
  return (
    <RowButton label={`Change: ${words.ask} ${told}`} onPress={onOpen} testID={`answered-${question.id}`}>
      <View style={{ flex: 1, gap: 2 }}>
        <Words>{`${words.ask} `}<Words bold>{told}</Words></Words>
        {because ? <Words at="small" colour="soft">{because}</Words> : null}
      </View>
      <Words at="small" bold>Change</Words>
    </RowButton>
  );
}
