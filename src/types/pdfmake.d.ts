declare module 'pdfmake/build/pdfmake';
