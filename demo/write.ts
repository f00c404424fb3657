import { writeDemoFiles } from './writeDemo.ts';

writeDemoFiles('demo/files');
