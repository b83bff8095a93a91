import AsyncStorage from '@react-native-async-storage/async-storage';
import { cleanup, screen, waitFor } from '@testing-library/react';
import { recall } from '@/storage/meta';
import { press, renderScreen, routes, type } from '@/testing/renderJob';
import { parseHabits } from '@core/planning';
import { SettingsScreen } from './SettingsScreen';

beforeEach(() => AsyncStorage.clear());

test('the dark theme is one press, turns the page dark, and is remembered', async () => {
  renderScreen(<SettingsScreen />);
  expect(document.documentElement.classList.contains('loft')).toBe(false);
  await press('Loft (dark)');
  expect(document.documentElement.classList.contains('loft')).toBe(true);
  await waitFor(async () => expect(await AsyncStorage.getItem('gutter-theme')).toBe('loft'));
  await press('Daylight');
  expect(document.documentElement.classList.contains('loft')).toBe(false);
});

test('the left hand is remembered for the next start', async () => {
  renderScreen(<SettingsScreen />);
  const name = /^Left hand/;
  expect(screen.getByLabelText(name).getAttribute('aria-checked')).toBe('false');
  await press(name);
  expect(screen.getByLabelText(name).getAttribute('aria-checked')).toBe('true');
  cleanup();
  renderScreen(<SettingsScreen />);
  await waitFor(() => expect(screen.getByLabelText(name).getAttribute('aria-checked')).toBe('true'));
});

test('it says what Gutter is not, and leads back to the jobs', async () => {
  renderScreen(<SettingsScreen />);
  expect(screen.getByText(/It does not certify/)).toBeTruthy();
  await press('All jobs');
  expect(routes).toEqual(['/']);
});

test('own minutes are kept as typed, refused beyond an hour, and an empty field is the usual again', async () => {
  renderScreen(<SettingsScreen />);
  await type(/^Walk to the next point/, '1,5');
  await type(/^One reading/, '99');
  await press('Save minutes');
  expect(screen.getByTestId('problem').textContent).toMatch(/0 to 60: one reading/);
  await type(/^One reading/, '');
  await press('Save minutes');
  await waitFor(async () => expect(parseHabits(await recall('habits'))).toEqual({ minutes: { walk: 1.5 }, startWith: 'no preference' }));
  await press('Clamp');
  await waitFor(async () => expect(parseHabits(await recall('habits'))).toEqual({ minutes: { walk: 1.5 }, startWith: 'clamp' }));
  await type(/^Walk to the next point/, '');
  await press('Save minutes');
  await waitFor(async () => expect(parseHabits(await recall('habits')).minutes).toEqual({}));
});
