import { writeDemoFiles } from './writeDemo.ts';

await writeDemoFiles('demo/files');
