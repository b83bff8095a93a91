export { readingsCsv } from './csv';
export { disclaimer, reportHtml } from './html';
export { reportPdf, type PdfDefinition } from './pdf';
export { describeReport, stateLine, type Report, type ReportReading } from './report';
