import * as Comlink from 'comlink';
import { createEngineHost } from './engineHost';

Comlink.expose(createEngineHost());
